<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\TablePlan;

/**
 * What is likely to be right for a way of asking for changes, by the names of columns and inputs.
 */
final class IncrementProposal
{
    /** Names of columns that say when a record was changed. */
    private const CHANGED = '/chang|updat|modif|edit|touch|last/i';

    /** Names of parameters that ask for changes. */
    private const SINCE = '/since|after|updated|changed|modified|from/i';

    /**
     * The way that fits a table best.
     *
     * @return string a key of Increments::WAYS
     */
    public static function kind(TablePlan $table): string
    {
        return match (true) {
            self::columns($table, 'changed') !== [] => 'changed',
            self::columns($table, 'key') !== [] => 'key',
            default => 'window',
        };
    }

    /**
     * @param  string  $kind  a key of Increments::WAYS
     * @param  list<string>  $inputs  names of the inputs of the endpoint that are no constants
     * @return array<string, mixed> `since` of a source file
     */
    public static function since(string $kind, TablePlan $table, array $inputs): array
    {
        $column = self::columns($table, $kind)[0] ?? null;
        $named = array_values(preg_grep(self::SINCE, $inputs) ?: [])[0] ?? null;

        return match ($kind) {
            'changed' => ($column === null ? [] : ['column' => $column]) + ['send_as' => $named ?? 'changed_since', 'overlap' => 'PT5M'],
            'key' => ($column === null ? [] : ['column' => $column]) + ['send_as' => $named ?? 'after'],
            'window' => ['window' => 'P7D', 'send_as' => $named ?? 'from'],
            default => ['marker' => '$.next_marker', 'send_as' => $named ?? 'marker'],
        };
    }

    /**
     * Columns by which changes can be asked for, the likely ones first.
     *
     * @return list<string>
     */
    public static function columns(TablePlan $table, string $kind): array
    {
        $types = ['changed' => ['datetime', 'date'], 'key' => ['integer', 'text']][$kind] ?? [];
        $usable = array_values(array_filter($table->columns, static fn (Column $one): bool => in_array($one->type->name(), $types, true) && $one->mask->value === 'none'));
        $weight = static fn (Column $one): array => $kind === 'changed'
            ? [preg_match(self::CHANGED, $one->name), (int) ($one->type->name() === 'datetime')]
            : [(int) $one->inKey, (int) ($one->type->name() === 'integer')];
        usort($usable, static fn (Column $one, Column $other): int => $weight($other) <=> $weight($one));

        return array_map(static fn (Column $one): string => $one->name, $usable);
    }
}
