<?php

declare(strict_types=1);

namespace DeepSpring\Indexing;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\TablePlan;

/**
 * By which columns tables belong together.
 */
final class TableTies
{
    /**
     * Columns of a branch that hold the whole key of the table it is made from.
     *
     * @return TableTie|null in names of the plan
     */
    public static function toParent(TablePlan $branch, TablePlan $parent): ?TableTie
    {
        $columns = [];
        foreach ($parent->key as $name) {
            $path = self::path($parent->columns, static fn (Column $column): bool => $column->name === $name && $column->source === ColumnSource::From);
            $there = array_filter($branch->columns, static fn (Column $column): bool => $column->source === ColumnSource::Parent && $column->up === 0 && (string) $column->path === $path);
            if ($path === null || $there === []) {
                return null;
            }
            $columns[] = array_values($there)[0]->name;
        }

        return $columns === [] ? null : new TableTie($columns, $parent->name, true);
    }

    /**
     * Columns that are named like the key of another table, and hold the same type: `borrower_id` where that
     * is a key, or where borrowers has the key `id`.
     *
     * @param  array<string, string>  $columns  types by names
     * @param  array<string, array{key: string, type: string}>  $others  tables with a key of one column
     * @return list<TableTie>
     */
    public static function toKeys(array $columns, array $others): array
    {
        $ties = [];
        foreach ($others as $table => ['key' => $key, 'type' => $type]) {
            foreach (self::namesOf($table, $key) as $name) {
                if (($columns[$name] ?? null) === $type) {
                    $ties[] = new TableTie([$name], $table, false);

                    break;
                }
            }
        }

        return $ties;
    }

    /**
     * What a column may be called that holds the key of a table.
     *
     * @return list<string>
     */
    public static function namesOf(string $table, string $key): array
    {
        return strtolower($key) === 'id' ? array_merge(...array_map(static fn (string $one): array => ["{$one}_id", "{$one}Id", $one], self::singulars($table))) : [$key];
    }

    /**
     * @param  list<Column>  $columns
     * @param  \Closure(Column): bool  $is
     */
    private static function path(array $columns, \Closure $is): ?string
    {
        $found = array_values(array_filter($columns, $is));

        return $found === [] ? null : (string) $found[0]->path;
    }

    /**
     * What one row of a table may be called.
     *
     * @return non-empty-list<string>
     */
    private static function singulars(string $table): array
    {
        return match (true) {
            str_ends_with($table, 'ies') => [substr($table, 0, -3).'y'],
            str_ends_with($table, 'es') => [substr($table, 0, -1), substr($table, 0, -2)],
            str_ends_with($table, 's') => [substr($table, 0, -1)],
            default => [$table],
        };
    }
}
