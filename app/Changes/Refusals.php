<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\ChangeSet;

/**
 * What was refused, or does not fit, as a table that can be mended and given back: the key, what was wanted, and why not.
 */
final class Refusals
{
    /**
     * @return \Generator<int, list<string>>
     */
    public static function lines(ChangeTable $table, ChangeSet $set): \Generator
    {
        $refused = $set->changes()->where(static fn ($any) => $any->whereIn('state', ['refused', 'conflict', 'unknown'])->orWhere(static fn ($unfit) => $unfit->where('state', 'pending')->where('faults', '!=', '{}')->where('faults', '!=', '[]')));
        $columns = [];
        foreach ((clone $refused)->lazyById(500) as $change) {
            $columns += array_fill_keys(array_keys($change->after), true);
        }
        $names = array_values(array_unique([...$table->plan->table->key, ...array_map(strval(...), array_keys($columns))]));
        yield [...$names, 'state', 'reason'];
        foreach ($refused->lazyById(500) as $change) {
            $row = $change->after + ($change->key ?? []);
            $why = [$change->reason ?? '', ...array_map(static fn (string $column, string $fault): string => trim("$column $fault"), array_keys($change->faults), $change->faults)];
            yield [...array_map(static fn (string $name): string => (string) ($row[$name] ?? ''), $names), $change->state->value, implode('; ', array_filter($why))];
        }
    }
}
