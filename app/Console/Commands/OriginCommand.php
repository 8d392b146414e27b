<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Http\Tables\OriginSheet;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableReader;
use App\Runs\RowOrigins;

final class OriginCommand extends SpringCommand
{
    /** Seconds for which kept answers are looked through. */
    private const LONGEST = 600.0;

    protected $signature = 'spring:origin {table : A kept table} {row* : What tells the row apart, like loan_id=8812} {--column= : Only this column} {--environment= : Environment}';

    protected $description = 'Says where the values of a row were read';

    public function work(TableReader $reader, RowOrigins $origins): int
    {
        $table = $this->keptTable((string) $this->argument('table')) ?? throw $this->noTable((string) $this->argument('table'));
        $names = array_column($table->columns, 'name');
        $values = [];
        foreach ((array) $this->argument('row') as $given) {
            [$name, $value] = explode('=', (string) $given, 2) + [1 => null];
            $values[$name] = in_array($name, $names, true) ? $value : throw new WrongUse("\"$name\" is no column of $table->name. It has ".implode(', ', $names).'.');
        }
        $column = (string) $this->option('column');
        if ($column !== '' && ! in_array($column, $names, true)) {
            throw new WrongUse("\"$column\" is no column of $table->name. It has ".implode(', ', $names).'.');
        }
        try {
            $marks = $table->is_view ? [] : $reader->marksOf($table, $values, 2);
            $row = count($marks) === 1 ? $reader->row($table, $marks[0]) : null;
            if ($row === null) {
                $this->say($table->is_view ? "$table->name is a view: it holds no rows of its own." : ($marks === [] ? "No row of $table->name is like that." : 'Several rows are like that. Say more of the one that is meant.'));

                return self::REFUSED;
            }
            $sheet = new OriginSheet($table, $origins->find($table, $row, seconds: self::LONGEST), $row, $column, $marks[0], true);
        } catch (KeepFailed $failed) {
            $this->say($failed->getMessage());

            return self::REFUSED;
        }
        foreach ($sheet->columns as $one) {
            if ($column === '' || $one->name === $column) {
                $this->giveLine(implode("\t", [$one->name, (string) json_encode($row[$one->name] ?? null, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE), implode(' ', $sheet->paths($one)), $sheet->story($one)]));
            }
        }
        $origin = $sheet->origin;
        $this->say(match (true) {
            $origin->page !== null && $origin->run !== null => "Page $origin->page of {$origin->kept['pages']} that were kept of run {$origin->run->id}.".($origin->exchange !== null ? ' '.strtok($origin->exchange->request, "\n") : ($origin->asked === null ? '' : " $origin->asked")),
            $origin->kept === null => 'No answers are kept of this table.',
            $origin->unread !== null => "Not in the first $origin->unread of {$origin->kept['pages']} pages; the time was up.",
            default => "It is in none of the {$origin->kept['pages']} pages that were kept.",
        });

        return self::DONE;
    }
}
