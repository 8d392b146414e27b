<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use DeepSpring\Indexing\TableUse;

/**
 * One SELECT of a normal form: its tables, and what it does with their columns. A token is a text, or a
 * name as a list of its parts.
 */
final class StatementPart
{
    /** Schema, table, column. */
    private const COLUMN = 3;

    private const BOUNDS = ['<', '>', '<=', '>=', 'between'];

    /** @var array<string, string> by the names that the statement gives them */
    public readonly array $tables;

    /** @var list<list<string>> columns of tables around it */
    public readonly array $outside;

    /** @var array<string, array{equal: list<string>, range: list<string>, grouped: list<string>, sorted: list<string>, read: list<string>}> by the names of the tables here */
    private array $uses = [];

    /** @var array<string, array<string, list<string>>> columns that are compared with those of another table, by the names of both */
    private array $joined = [];

    /**
     * @param  array<string, list<string|list<string>>>  $clauses  tokens by the word that begins the clause
     * @param  list<list<string>>  $inside  columns that a SELECT inside this one takes from outside itself
     */
    public function __construct(array $clauses, string $schema, array $inside)
    {
        $from = $clauses['from'] ?? [];
        $tables = [];
        foreach ($from as $place => $token) {
            if (is_array($token) && count($token) === 2 && $token[0] === $schema) {
                $alias = $from[$place + 1] ?? null;
                $tables[is_array($alias) && count($alias) === 1 ? $alias[0] : $token[1]] = $token[1];
            }
        }
        $this->tables = $tables;
        $this->uses = array_map(static fn (): array => ['equal' => [], 'range' => [], 'grouped' => [], 'sorted' => [], 'read' => []], $tables);
        $outside = [];
        foreach ([...array_merge(...array_values($clauses)), ...$inside] as $token) {
            if (is_array($token) && count($token) === self::COLUMN) {
                isset($tables[$token[1]]) ? $this->uses[$token[1]]['read'][] = $token[2] : $outside[] = $token;
            }
        }
        $this->outside = $outside;
        foreach ([$clauses['where'] ?? [], ...$this->inBrackets($from, 'on')] as $condition) {
            $this->all($condition);
        }
        $this->group($clauses);
        $this->order($clauses);
    }

    /**
     * @return list<TableUse>
     */
    public function uses(): array
    {
        return array_map(function (string $alias): TableUse {
            $use = array_map(static fn (array $columns): array => array_values(array_unique($columns)), $this->uses[$alias]);

            $joined = array_values(array_map(static fn (array $columns): array => array_values(array_unique($columns)), $this->joined[$alias] ?? []));

            return new TableUse($this->tables[$alias], $use['equal'], $use['range'], $joined, $use['grouped'], $use['sorted'], $use['read']);
        }, array_map(strval(...), array_keys($this->tables)));
    }

    /**
     * @param  list<string|list<string>>  $condition
     */
    private function all(array $condition): void
    {
        $between = false;
        foreach ($this->split($condition, static function (string|array $token) use (&$between): bool {
            $ends = $token === 'and' && ! $between;
            $between = $token === 'between' || $between && $token !== 'and';

            return $ends;
        }) as $one) {
            if ($one[0] === '(' && $this->end($one, 0) === count($one) - 1) {
                $this->all(array_slice($one, 1, -1));
            } else {
                $this->one($one);
            }
        }
    }

    /**
     * @param  list<string|list<string>>  $one  a condition without AND
     */
    private function one(array $one): void
    {
        if (in_array('or', $one, true)) {
            return;
        }
        if ($one[0] === 'multiple' && ($one[1] ?? null) === 'equal') {
            $columns = array_values(array_filter($one, $this->is(...)));
            $isKnown = count($columns) < count($this->split(array_slice($one, 3, -1), static fn (string|array $token): bool => $token === ','));
            foreach ($columns as $column) {
                $isKnown ? $this->note($column, 'equal') : $this->join($column, array_filter($columns, static fn (array $other): bool => $other !== $column));
            }

            return;
        }
        $last = $one[count($one) - 1];
        if ($this->is($one[0])) {
            $this->compared($one[0], $one[1] ?? '', array_slice($one, 2));
        }
        if ($this->is($last) && count($one) > 2 && $one[count($one) - 2] === '=') {
            $this->compared($last, '=', array_slice($one, 0, -2));
        }
    }

    /**
     * @param  list<string>  $column
     * @param  string|list<string>  $operator
     * @param  list<string|list<string>>  $with
     */
    private function compared(array $column, string|array $operator, array $with): void
    {
        $others = array_filter($with, static fn (string|array $token): bool => is_array($token) && count($token) > 1);
        $own = array_filter($others, static fn (string|array $token): bool => count($token) === self::COLUMN && $token[1] === $column[1]);
        if ($own !== []) {
            return;
        }
        if (in_array($operator, ['=', '<=>'], true)) {
            $others === [] ? $this->note($column, 'equal') : $this->join($column, $others);
        } elseif ($operator === 'in' && $others === [] || $operator === 'is' && $with === ['null']) {
            $this->note($column, 'equal');
        } elseif (in_array($operator, self::BOUNDS, true) && $others === [] || $operator === 'like' && preg_match("/^'[^%_]/", is_string($with[0] ?? null) ? $with[0] : '') === 1) {
            $this->note($column, 'range');
        }
    }

    /**
     * @param  array<string, list<string|list<string>>>  $clauses
     */
    private function group(array $clauses): void
    {
        $select = $clauses['select'];
        $items = match (true) {
            isset($clauses['group']) => array_slice($clauses['group'], 1),
            ($select[0] ?? null) === 'distinct' => array_slice($select, 1),
            default => $this->inBrackets($select, 'count')[0] ?? [],
        };
        if (! isset($clauses['group']) && ($select[0] ?? null) !== 'distinct') {
            if (($items[0] ?? null) !== 'distinct') {
                return;
            }
            $items = array_slice($items, 1);
        }
        $this->together('grouped', $this->items($items, $select));
    }

    /**
     * What stands between commas, without the names that are given to it. A number stands for a column of the result.
     *
     * @param  list<string|list<string>>  $tokens
     * @param  list<string|list<string>>  $select  clause
     * @return list<list<string|list<string>>>
     */
    private function items(array $tokens, array $select): array
    {
        $split = fn (array $list): array => array_map(static fn (array $item): array => in_array('as', $item, true) ? array_slice($item, 0, (int) array_search('as', $item, true)) : $item, $this->split($list, static fn (string|array $token): bool => $token === ','));
        $columns = $split($select);

        return array_map(static fn (array $item): array => is_string($item[0]) && ctype_digit($item[0]) ? [...($columns[(int) $item[0] - 1] ?? ['?']), ...array_slice($item, 1)] : $item, $split($tokens));
    }

    /**
     * Only where some of the rows are asked for: otherwise all of them are read and sorted.
     *
     * @param  array<string, list<string|list<string>>>  $clauses
     */
    private function order(array $clauses): void
    {
        if (! isset($clauses['order'], $clauses['limit'])) {
            return;
        }
        $items = $this->items(array_slice($clauses['order'], 1), $clauses['select']);
        $descending = array_map(static fn (array $item): bool => $item[count($item) - 1] === 'desc', $items);
        if (count(array_unique($descending)) === 1) {
            $this->together('sorted', array_map(static fn (array $item): array => array_values(array_filter($item, static fn (string|array $token): bool => ! in_array($token, ['desc', 'asc'], true))), $items));
        }
    }

    /**
     * Columns of one table, and nothing else.
     *
     * @param  'grouped'|'sorted'  $how
     * @param  list<list<string|list<string>>>  $items
     */
    private function together(string $how, array $items): void
    {
        $tables = array_map(fn (array $item): ?string => count($item) === 1 && $this->is($item[0]) ? $item[0][1] : null, $items);
        if (count(array_unique($tables)) === 1 && $tables[0] !== null) {
            $this->uses[$tables[0]][$how] = array_map(static fn (array $item): string => $item[0][2], $items);
        }
    }

    /**
     * @param  list<string>  $column
     * @param  'equal'|'range'  $how
     */
    private function note(array $column, string $how): void
    {
        $this->uses[$column[1]][$how][] = $column[2];
    }

    /**
     * @param  list<string>  $column
     * @param  array<int, list<string>>  $others  columns of other tables
     */
    private function join(array $column, array $others): void
    {
        $names = array_unique(array_map(static fn (array $other): string => $other[count($other) - 2], $others));
        sort($names);
        $this->joined[$column[1]][implode(' ', $names)][] = $column[2];
    }

    /**
     * Whether a token is a column of a table here.
     *
     * @param  string|list<string>|null  $token
     *
     * @phpstan-assert-if-true list<string> $token
     */
    private function is(string|array|null $token): bool
    {
        return is_array($token) && count($token) === self::COLUMN && isset($this->tables[$token[1]]);
    }

    /**
     * What stands in brackets after a word.
     *
     * @param  list<string|list<string>>  $tokens
     * @return list<list<string|list<string>>>
     */
    private function inBrackets(array $tokens, string $word): array
    {
        $found = [];
        foreach ($tokens as $place => $token) {
            if ($token === $word && ($tokens[$place + 1] ?? null) === '(') {
                $found[] = array_slice($tokens, $place + 2, $this->end($tokens, $place + 1) - $place - 2);
            }
        }

        return $found;
    }

    /**
     * The place of the bracket that closes the one at a place.
     *
     * @param  list<string|list<string>>  $tokens
     */
    private function end(array $tokens, int $open): int
    {
        $depth = 0;
        for ($place = $open; $place < count($tokens); $place++) {
            $depth += match ($tokens[$place]) {
                '(' => 1, ')' => -1, default => 0,
            };
            if ($depth === 0) {
                return $place;
            }
        }

        return count($tokens);
    }

    /**
     * @param  list<string|list<string>>  $tokens
     * @param  \Closure(string|list<string>): bool  $ends  asked of what does not stand in brackets
     * @return list<non-empty-list<string|list<string>>>
     */
    private function split(array $tokens, \Closure $ends): array
    {
        $parts = [[]];
        $depth = 0;
        foreach ($tokens as $token) {
            if ($depth === 0 && $ends($token)) {
                $parts[] = [];

                continue;
            }
            $depth += match ($token) {
                '(' => 1, ')' => -1, default => 0,
            };
            $parts[count($parts) - 1][] = $token;
        }

        return array_values(array_filter($parts));
    }
}
