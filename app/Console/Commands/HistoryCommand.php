<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Reservoir\KeepFailed;
use App\Reservoir\TableHistory;
use App\Runs\StatesOfTable;
use App\Runs\TableStates;

final class HistoryCommand extends SpringCommand
{
    /** Rows of each sort that are compared. */
    private const SHOWN = 100;

    /** Seconds of a statement. */
    private const LONGEST = 600;

    protected $signature = 'spring:history {table : A kept table} {--compare= : FROM..TO: two of "now", names of states, and moments in UTC} {--forget : Gives up all that stays of it} {--environment= : Environment}';

    protected $description = 'Lists earlier states of a table, compares two of them';

    public function work(TableHistory $history, TableStates $states): int
    {
        $table = $this->keptTable((string) $this->argument('table')) ?? throw $this->noTable((string) $this->argument('table'));
        $there = new StatesOfTable($table, $history);
        if ($this->option('forget')) {
            $gone = $states->forgetAll($table->endpoint, $table->environment, $table->name);
            $this->say($gone === [] ? "Nothing stays of $table->name." : 'Gone: '.implode(', ', $gone).'.');

            return self::DONE;
        }
        if (is_string($this->option('compare'))) {
            return $this->compare($there, $history, $this->option('compare'));
        }
        foreach ($there->snapshots as $state) {
            $this->giveLine(implode("\t", [$state->name, 'state', $state->state_at->format('Y-m-d\TH:i:s\Z'), $state->rows, $there->bytes[$state->name] ?? 0]));
        }
        if ($there->versions !== null) {
            $this->giveLine(implode("\t", [$there->versions->name, 'versions', $there->versions->state_at->format('Y-m-d\TH:i:s\Z'), $there->versions->rows, $there->bytes[$there->versions->name] ?? 0]));
        }
        foreach ($there->ended as $state) {
            $this->giveLine(implode("\t", [$state->name, 'ended', $state->state_at->format('Y-m-d\TH:i:s\Z'), $state->rows, $there->bytes[$state->name] ?? 0]));
        }
        $there->isEmpty() && $this->say("Nothing stays of $table->name after a refresh. A source file says what does under keep.history of its endpoint.");

        return self::DONE;
    }

    private function compare(StatesOfTable $there, TableHistory $history, string $which): int
    {
        [$from, $to] = explode('..', $which, 2) + [1 => StatesOfTable::NOW];
        $before = $there->pick($from) ?? throw new WrongUse("\"$from\" is no state of {$there->table->name}. There are: ".implode(', ', $there->choices()).'.');
        $after = $there->pick($to) ?? throw new WrongUse("\"$to\" is no state of {$there->table->name}. There are: ".implode(', ', $there->choices()).'.');
        try {
            $found = $history->compare($there->table->environment, $before, $after, self::SHOWN, self::LONGEST);
        } catch (KeepFailed $failed) {
            $this->say($failed->getMessage());

            return self::REFUSED;
        }
        $rows = [
            ...array_map(static fn (array $row): array => ['came', $row], $found->rowsCame), ...array_map(static fn (array $row): array => ['went', $row], $found->rowsWent),
            ...array_map(static fn (array $row): array => ['changed', $row['key'] + $row['values']], $found->rowsChanged),
        ];
        foreach ($rows as [$sort, $row]) {
            $this->giveLine("$sort\t".json_encode($row, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE));
        }
        $this->say("$found->came came, $found->went went".($found->changed === null ? ' (the table has no key: what changed is among both)' : ", $found->changed changed").". $found->before rows before, $found->after after.");

        return self::DONE;
    }
}
