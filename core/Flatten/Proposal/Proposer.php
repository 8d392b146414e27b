<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

use DeepSpring\Flatten\SafeNames;

/**
 * Sample records → a plan: objects folded into prefixed columns, arrays of objects as branches,
 * arrays of values joined, types by what survives, a key where one is seen.
 */
final class Proposer
{
    /** @var array<string, string> */
    private array $notes = [];

    /**
     * @param  list<mixed>  $records
     */
    public function propose(array $records, string $table): Proposal
    {
        $this->notes = [];
        $table = SafeNames::clean($table);
        $structure = new Structure($records);
        [$columns, $branchPaths] = $this->columns($structure, $table);
        $key = $this->key($structure, $columns);

        $branches = [];
        $tables = [$table];
        foreach ($branchPaths as $path => $names) {
            $tables[] = SafeNames::clean($this->singular($table).'_'.implode('_', $names));
            $branches[$path] = '';
        }
        $tables = SafeNames::all($tables);
        foreach (array_keys($branchPaths) as $number => $path) {
            $branches[$path] = $this->branch($structure, $path, $tables[$number + 1], $columns, $key);
        }

        return new Proposal(['table' => $table, 'key' => $key, 'columns' => $columns] + ($branches === [] ? [] : ['branches' => array_values($branches)]), $this->notes);
    }

    /**
     * @return array{list<array<string, mixed>>, array<string, list<string>>} columns, and the arrays of objects
     */
    private function columns(Structure $structure, string $table): array
    {
        $columns = [];
        $branches = [];
        $names = [];
        foreach ($structure->fields as $path => $stats) {
            $elements = $structure->elements[$path] ?? null;
            if ($elements !== null && $stats->structures === $stats->values && $this->areRecords($elements)) {
                $branches[$path] = $structure->names[$path];

                continue;
            }
            $column = ['name' => '', 'from' => $path];
            if ($elements !== null && $stats->structures === $stats->values && $this->areValues($elements)) {
                $column = ['name' => '', 'from' => $path.'[*]', 'type' => 'text', 'many' => 'join', 'with' => $this->separator($elements)];
            } else {
                $type = $stats->type();
                $column += array_diff_key($type, ['note' => true]);
                $this->notes[$path] = (string) $type['note'];
            }
            $columns[] = $column;
            $names[] = implode('_', $structure->names[$path]);
        }
        foreach (SafeNames::all($names) as $number => $name) {
            $columns[$number]['name'] = $name;
            $path = (string) $columns[$number]['from'];
            if (($this->notes[$path] ?? '') !== '') {
                $this->notes["$table.$name"] = $this->notes[$path];
            }
            unset($this->notes[$path]);
        }

        return [$columns, $branches];
    }

    /**
     * @param  list<array<string, mixed>>  $parentColumns
     * @param  list<string>  $parentKey
     * @return array<string, mixed>
     */
    private function branch(Structure $structure, string $path, string $table, array $parentColumns, array $parentKey): array
    {
        $inside = new Structure($structure->elements[$path]);
        [$columns] = $this->columns($inside, $table);
        $leading = [];
        foreach ($parentColumns as $column) {
            if (in_array($column['name'], $parentKey, true)) {
                $name = (string) $column['name'];
                $leading[] = ['name' => in_array($name, ['id', 'ref', 'key', 'number', 'code'], true) ? SafeNames::clean($this->singular((string) explode('_', $table)[0]).'_'.$name) : $name, 'parent' => $column['from']] + array_diff_key($column, ['name' => 1, 'from' => 1]);
            }
        }
        $leading[] = ['name' => 'position', 'position' => 1, 'type' => 'integer'];
        $all = [...$leading, ...$columns];
        foreach (SafeNames::all(array_map(static fn (array $column): string => (string) $column['name'], $all)) as $number => $name) {
            $was = (string) $all[$number]['name'];
            if ($was !== $name && isset($this->notes["$table.$was"])) {
                $this->notes["$table.$name"] = $this->notes["$table.$was"];
            }
            $all[$number]['name'] = $name;
        }
        $key = $parentKey === [] ? [] : array_map(static fn (array $column): string => $column['name'], array_slice($all, 0, count($leading)));

        return ['table' => $table, 'from' => $path.'[*]', 'key' => $key, 'columns' => $all];
    }

    /**
     * The first column that is unique and never empty, those named like identifiers before others.
     *
     * @param  list<array<string, mixed>>  $columns
     * @return list<string>
     */
    private function key(Structure $structure, array $columns): array
    {
        $ranked = [];
        foreach ($columns as $order => $column) {
            $stats = $structure->fields[$column['from']] ?? null;
            if ($stats === null || $stats->values < $structure->records || ! $stats->isUnique() || ! in_array($column['type'] ?? '', ['integer', 'text'], true)) {
                continue;
            }
            $name = (string) $column['name'];
            $rank = match (true) {
                $name === 'id' => 0,
                preg_match('/(^|_)(id|uuid|key|ref|number|code|no|slug)_?$/D', $name) === 1 => 1 + substr_count($name, '_'),
                default => 99,
            };
            if ($rank < 99) {
                $ranked[] = [$rank, $order, $name];
            }
        }
        sort($ranked);

        return $ranked === [] ? [] : [$ranked[0][2]];
    }

    /**
     * @param  list<mixed>  $elements
     */
    private function areRecords(array $elements): bool
    {
        return $elements !== [] && array_filter($elements, static fn (mixed $one): bool => ! is_object($one)) === [];
    }

    /**
     * @param  list<mixed>  $elements
     */
    private function areValues(array $elements): bool
    {
        return array_filter($elements, static fn (mixed $one): bool => is_array($one) || is_object($one)) === [];
    }

    /**
     * A separator that none of the values holds.
     *
     * @param  list<mixed>  $elements
     */
    private function separator(array $elements): string
    {
        foreach ([', ', '; ', ' | '] as $separator) {
            if (array_filter($elements, static fn (mixed $one): bool => is_string($one) && str_contains($one, trim($separator))) === []) {
                return $separator;
            }
        }

        return "\n";
    }

    private function singular(string $table): string
    {
        return match (true) {
            str_ends_with($table, 'ies') => substr($table, 0, -3).'y',
            str_ends_with($table, 'ss') => $table,
            str_ends_with($table, 's') => substr($table, 0, -1),
            default => $table,
        };
    }
}
