<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Console\CallerFiles;
use App\Console\RowTable;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\SavedQuery;
use App\Models\User;
use App\Queries\ExportFiles;
use App\Queries\ExportOutcome;
use App\Queries\Exports;
use App\Queries\OpenResult;
use App\Queries\QueryRefused;
use App\Queries\QueryRunner;
use App\Queries\QuerySlots;
use App\Queries\StatementValues;
use App\Queries\Waiting;
use DeepSpring\Export\CannotExport;
use DeepSpring\Export\ExportChoice;
use DeepSpring\Export\ExportFormat;
use DeepSpring\Sql\StatementText;
use DeepSpring\Value\Phrase;

final class QueryCommand extends SpringCommand
{
    protected $signature = 'spring:query {sql : One reading statement, or the name of a saved query}
        {--as=table : table, csv, tsv, json, ndjson, md or xlsx}
        {--o|output= : A file to write to; XLSX needs one}
        {--guard : Make CSV safe for spreadsheets}
        {--separator=comma : Of CSV: comma, semicolon, tab or bar}
        {--titles : Head the columns with their titles and units}
        {--encoding=utf-8 : Of CSV: utf-8, utf-8-bom, utf-16 or latin1}
        {--param=* : A value of a parameter, as name=value; again for several}
        {--watch= : Ask again each time so long has passed, as 30s, 5m or 1h, until it is stopped}
        {--environment= : Environment} {--user= : Email of the person it runs as}';

    protected $description = 'Runs SQL over the kept tables';

    /** Seconds that a statement waits for its turn. */
    private const PATIENCE = 600;

    /** Seconds that a statement may take. */
    private const LONGEST = 600;

    public function work(QueryRunner $runner, QuerySlots $turns, Exports $exports): int
    {
        $as = (string) $this->option('as');
        $format = $as === 'table' ? null : ExportFormat::tryFrom($as) ?? throw new WrongUse('--as takes table, csv, tsv, json, ndjson, md or xlsx.');
        $path = is_string($this->option('output')) && $this->option('output') !== '' ? $this->option('output') : null;
        if ($format === ExportFormat::Xlsx && $path === null) {
            throw new WrongUse('XLSX has to go into a file: --output FILE.');
        }
        if ($format === null && $path !== null) {
            throw new WrongUse('A file is written in a format: --as csv, tsv, json, ndjson, md or xlsx.');
        }
        $choice = $this->written();
        $every = $this->seconds();
        do {
            $code = $this->once($runner, $turns, $exports, $format, $choice, $path);
        } while ($code === self::DONE && $every !== null && sleep($every) === 0);

        return $code;
    }

    private function once(QueryRunner $runner, QuerySlots $turns, Exports $exports, ?ExportFormat $format, ExportChoice $choice, ?string $path): int
    {
        try {
            $person = $this->person();
            $statements = $this->statements($person);
            $turn = $turns->await($person, self::PATIENCE, fn (Waiting $waiting) => $this->say("Waits for its turn: {$waiting->sentence()}"));
            if ($format !== null) {
                $file = $path === null ? 'php://stdout' : ExportFiles::path(bin2hex(random_bytes(8)));
                $outcome = $exports->write($person, $this->environment(), $statements, $format, $choice, $file, self::LONGEST, opened: $this->tell(...));
                if ($path !== null && ! CallerFiles::place($file, $this->path($path))) {
                    throw CannotExport::because("$path cannot be written.");
                }
                $this->told($outcome, $path);
            } else {
                $open = $runner->stream($person, $this->environment(), $statements[0], self::LONGEST);
                $this->tell($open);
                (new RowTable($this->output, $this->say(...)))->show($open->columns, $open->rows);
            }
        } catch (QueryRefused|CannotExport $refused) {
            $this->say($refused->getMessage());

            return self::REFUSED;
        } finally {
            ($turn ?? null)?->giveBack();
            isset($file) && $path !== null && @unlink($file);
        }

        return self::DONE;
    }

    /**
     * What has to be known of how it was asked.
     */
    private function tell(OpenResult $open): void
    {
        foreach ($open->asked as $one) {
            $this->say($one->sentence());
        }
        foreach ($open->live as $one) {
            $this->say("{$one->table->name} is not kept: ".Phrase::count($one->rows, 'row')." read from {$one->table->source->name} in ".Phrase::count($one->requests, 'request').", {$one->address}");
            foreach ($one->parts as $part) {
                $this->say($part->asked !== null ? "  asked of the service: {$part->text}" : "  done here: {$part->text} ({$part->why})");
            }
        }
    }

    private function told(?ExportOutcome $outcome, ?string $path): void
    {
        foreach ($outcome->said ?? [] as $sentence) {
            $this->say($sentence);
        }
        if ($path !== null && $outcome !== null) {
            $this->say(Phrase::count($outcome->rows, 'row')." in $path.");
        }
    }

    /**
     * What is asked: a saved query of that name, or the text itself, with values in place of its parameters.
     *
     * @return list<string>
     */
    private function statements(User $person): array
    {
        $given = (string) $this->argument('sql');
        $saved = SavedQuery::seenBy($person)->where('name', $given)->first();
        $all = StatementText::all($saved->sql ?? $given);
        if (count($all) > 1 && $this->option('as') !== 'xlsx') {
            throw QueryRefused::because('Several statements give several results, for which XLSX alone has sheets: --as xlsx --output FILE.');
        }

        $values = $this->values();

        return $all === [] ? throw QueryRefused::because('Write a query first, for example: select * from loans')
            : array_map(static fn (StatementText $one): string => StatementValues::bound($one->sql, $saved->parameters ?? [], $values, $person)->sql, $all);
    }

    /**
     * @return array<string, string|list<string>>
     */
    private function values(): array
    {
        $values = [];
        foreach ((array) $this->option('param') as $given) {
            if (preg_match('/^([A-Za-z_]\w*)=(.*)$/sD', (string) $given, $part) !== 1) {
                throw new WrongUse('--param takes name=value.');
            }
            $values[$part[1]][] = $part[2];
        }

        return $values;
    }

    private function written(): ExportChoice
    {
        $separator = ExportChoice::SEPARATORS[(string) $this->option('separator')] ?? throw new WrongUse('--separator takes '.implode(', ', array_keys(ExportChoice::SEPARATORS)).'.');
        isset(ExportChoice::ENCODINGS[(string) $this->option('encoding')]) || throw new WrongUse('--encoding takes '.implode(', ', array_keys(ExportChoice::ENCODINGS)).'.');

        return new ExportChoice((bool) $this->option('guard'), $separator, (string) $this->option('encoding'), (bool) $this->option('titles'));
    }

    private function seconds(): ?int
    {
        $every = (string) $this->option('watch');
        if ($every === '') {
            return null;
        }

        return preg_match('/^([1-9]\d{0,4})([smh])$/D', $every, $part) === 1 ? (int) $part[1] * ['s' => 1, 'm' => 60, 'h' => 3600][$part[2]] : throw new WrongUse('--watch takes a time like 30s, 5m or 1h.');
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
