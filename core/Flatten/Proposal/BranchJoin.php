<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

use DeepSpring\Value\SafeNames;

/**
 * What joins the rows of a branch to those of the table that it is taken from.
 */
final class BranchJoin
{
    /**
     * New branches of a table whose records bring no key: joined by the number of the row, which the table
     * then has as well; or, where the table is a branch itself, by what says whose elements its own rows are.
     *
     * @param  array<string, mixed>  $table
     * @param  array<string, mixed>  $proposal
     * @param  list<array<string, mixed>>  $branches
     * @return array{list<array<string, mixed>>, list<array<string, mixed>>} columns that the table needs for it, and the branches
     */
    public static function of(array $table, array $proposal, array $branches): array
    {
        $number = array_values(array_filter($proposal['columns'], static fn (array $column): bool => isset($column['position'])));
        if ($branches === [] || $number === []) {
            return [[], $branches];
        }
        if (! isset($table['from'])) {
            return [array_filter($table['columns'], static fn (array $column): bool => isset($column['position'])) === [] ? $number : [], $branches];
        }
        $above = [];
        foreach ($table['columns'] as $column) {
            if (isset($column['parent']) || isset($column['position']) || isset($column['member'])) {
                $above[] = isset($column['parent']) ? ['up' => ($column['up'] ?? 0) + 1] + $column : Proposer::fromAbove($column, (string) $table['table']);
            }
        }
        foreach ($branches as $place => $branch) {
            $own = array_values(array_filter($branch['columns'], static fn (array $column): bool => ! isset($column['up'])));
            $all = [...$above, ...$own];
            foreach (SafeNames::all(array_column($all, 'name')) as $at => $name) {
                $all[$at]['name'] = $name;
            }
            $keyed = array_filter($all, static fn (array $column): bool => isset($column['up']) || isset($column['position']) || isset($column['member']));
            $branches[$place] = ['key' => array_column($keyed, 'name'), 'columns' => $all] + $branch;
        }

        return [[], $branches];
    }
}
