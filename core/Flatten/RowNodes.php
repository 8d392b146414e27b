<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\JsonPath\JsonNode;
use DeepSpring\Answer\JsonPath\TooCostly;

/**
 * The nodes of a record that a row was made of: the record itself, and of a branch the element, and those that it
 * stands in.
 */
final readonly class RowNodes
{
    /**
     * @param  non-empty-list<array{mixed, list<string|int>}>  $chain  value and steps from the record of each node, the record first
     */
    private function __construct(private array $chain)
    {
    }

    /**
     * @param  int  $table  its number among those of the plan
     * @param  int  $row  its place among the rows that this record became there
     * @param  int  $rows  how many these are
     * @return self|null null where elements were left out, so that it cannot be said which one it is
     */
    public static function of(Plan $plan, int $table, mixed $record, int $row, int $rows): ?self
    {
        $path = self::path($plan->table, $plan->tables()[$table]);
        try {
            $chains = self::chains(array_slice($path, 1), [[$record, []]]);
        } catch (TooCostly) {
            return null;
        }

        return count($chains) === $rows && isset($chains[$row]) ? new self($chains[$row]) : null;
    }

    /**
     * Where the values of a column stand.
     *
     * @return list<list<string|int>> steps from the record; none for what does not stand in it
     */
    public function stepsOf(Column $column): array
    {
        $last = count($this->chain) - 1;
        $from = match ($column->source) {
            ColumnSource::From => $last,
            ColumnSource::Parent => max(0, $last - 1 - $column->up),
            default => null,
        };
        if ($column->source === ColumnSource::Position || $column->source === ColumnSource::Member) {
            return [$this->chain[max(0, $last - $column->up)][1]];
        }
        if ($from === null || $column->path === null) {
            return [];
        }
        [$value, $steps] = $this->chain[$from];
        try {
            $nodes = $column->path->nodes($value);
        } catch (TooCostly) {
            return [];
        }
        $nodes = match ($column->many) {
            ManyValues::First => array_slice($nodes, 0, 1),
            ManyValues::Last => array_slice($nodes, -1),
            default => $nodes,
        };

        return array_map(static fn (JsonNode $node): array => [...$steps, ...$node->location->steps()], $nodes);
    }

    /**
     * Steps to what became the row.
     *
     * @return list<string|int>
     */
    public function steps(): array
    {
        return $this->chain[count($this->chain) - 1][1];
    }

    /**
     * The tables from the main one down to another.
     *
     * @return list<TablePlan>
     */
    private static function path(TablePlan $from, TablePlan $to): array
    {
        if ($from === $to) {
            return [$from];
        }
        foreach ($from->branches as $branch) {
            $rest = self::path($branch, $to);
            if ($rest !== []) {
                return [$from, ...$rest];
            }
        }

        return [];
    }

    /**
     * @param  list<TablePlan>  $path
     * @param  non-empty-list<array{mixed, list<string|int>}>  $chain
     * @return list<non-empty-list<array{mixed, list<string|int>}>>
     *
     * @throws TooCostly
     */
    private static function chains(array $path, array $chain): array
    {
        if ($path === []) {
            return [$chain];
        }
        [$value, $steps] = $chain[count($chain) - 1];
        $chains = [];
        foreach ($path[0]->from?->nodes($value) ?? [] as $node) {
            array_push($chains, ...self::chains(array_slice($path, 1), [...$chain, [$node->value, [...$steps, ...$node->location->steps()]]]));
        }

        return $chains;
    }
}
