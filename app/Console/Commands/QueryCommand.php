<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\RowTable;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\User;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\QuerySlots;
use App\Queries\ResultColumn;
use App\Queries\Waiting;
use DeepSpring\Export\CsvWriter;
use DeepSpring\Value\Phrase;

final class QueryCommand extends SpringCommand
{
    protected $signature = 'spring:query {sql : One reading statement} {--as=table : csv, json or table} {--guard : Make CSV safe for spreadsheets} {--environment= : Environment} {--user= : Email of the person it runs as}';

    protected $description = 'Runs SQL over the kept tables';

    /** Seconds that a statement waits for its turn. */
    private const PATIENCE = 600;

    public function work(QueryRunner $runner, QuerySlots $turns): int
    {
        $as = (string) $this->option('as');
        if (! in_array($as, ['csv', 'json', 'table'], true)) {
            throw new WrongUse('--as takes csv, json or table.');
        }
        try {
            $turn = $turns->await($this->person(), self::PATIENCE, fn (Waiting $waiting) => $this->say("Waits for its turn: {$waiting->sentence()}"));
            $open = $runner->stream($this->person(), $this->environment(), (string) $this->argument('sql'), 600);
            foreach ($open->asked as $one) {
                $this->say($one->sentence());
            }
            foreach ($open->live as $one) {
                $this->say("{$one->table->name} is not kept: ".Phrase::count($one->rows, 'row')." read from {$one->table->source->name} in ".Phrase::count($one->requests, 'request').", {$one->address}");
                foreach ($one->parts as $part) {
                    $this->say($part->asked !== null ? "  asked of the service: {$part->text}" : "  done here: {$part->text} ({$part->why})");
                }
            }
            match ($as) {
                'csv' => $this->asCsv($open->columns, $open->rows),
                'json' => $this->asJson($open->columns, $open->rows),
                default => (new RowTable($this->output, $this->say(...)))->show($open->columns, $open->rows),
            };
        } catch (QueryRefused $refused) {
            $this->say($refused->getMessage());

            return self::REFUSED;
        } finally {
            ($turn ?? null)?->giveBack();
        }

        return self::DONE;
    }

    /**
     * @param  list<ResultColumn>  $columns
     * @param  iterable<list<string|null>>  $rows
     */
    private function asCsv(array $columns, iterable $rows): void
    {
        $csv = new CsvWriter((bool) $this->option('guard'));
        $isText = array_map(static fn (ResultColumn $column): bool => $column->isText, $columns);
        $this->give($csv->line(array_map(static fn (ResultColumn $column): string => $column->name, $columns)));
        foreach ($rows as $row) {
            $this->give($csv->line($row, $isText));
        }
    }

    /**
     * One array of objects, a row a line. Whole numbers are JSON numbers when they are safe in 53
     * bits; other numbers stay text, so that no digit is lost.
     *
     * @param  list<ResultColumn>  $columns
     * @param  iterable<list<string|null>>  $rows
     */
    private function asJson(array $columns, iterable $rows): void
    {
        $first = true;
        $this->give('[');
        foreach ($rows as $row) {
            $object = [];
            foreach ($columns as $place => $column) {
                $value = $row[$place];
                $object[$column->name] = $column->isNumber && $value !== null && preg_match('/^-?\d{1,15}$/D', $value) === 1 ? (int) $value : $value;
            }
            $this->give(($first ? "\n" : ",\n").json_encode((object) $object, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE));
            $first = false;
        }
        $this->give("\n]\n");
    }

    private function person(): User
    {
        $mail = $this->option('user');
        $user = is_string($mail) && $mail !== '' ? User::query()->where('email', $mail)->first() : $this->somebody();

        return $user ?? throw new WrongUse('There is nobody to run it as.');
    }

    /**
     * The one asked for; otherwise the first that keeps a table.
     */
    private function environment(): Environment
    {
        $asked = $this->option('environment');
        if (is_string($asked) && $asked !== '') {
            return Environment::named($asked) ?? throw new WrongUse("There is no environment \"$asked\".");
        }

        return Environment::query()->whereIn('id', KeptTable::query()->select('environment_id'))->orderBy('position')->first()
            ?? Environment::query()->orderBy('position')->firstOrFail();
    }
}
