<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\ManyValues;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\TablePlan;

/**
 * Where the values of masked columns stand in a record, whatever table reads them.
 *
 * @phpstan-type Place array{list<string|int>, Column}
 */
final readonly class MaskedPlaces
{
    /** @var array<int, list<Column>> masked columns of a table, by the object id of its plan; tables without any below them are left out */
    private array $columns;

    public function __construct(private Plan $plan)
    {
        $columns = [];
        self::gather($plan->table, $columns);
        $this->columns = $columns;
    }

    /**
     * @param  array<int, list<Column>>  $columns
     * @return bool whether something is masked there, or below
     */
    private static function gather(TablePlan $table, array &$columns): bool
    {
        $own = array_values(array_filter($table->columns, static fn (Column $column): bool => self::masksValues($column) && $column->source !== ColumnSource::Envelope));
        $below = false;
        foreach ($table->branches as $branch) {
            $below = self::gather($branch, $columns) || $below;
        }
        if ($own !== [] || $below) {
            $columns[spl_object_id($table)] = $own;
        }

        return $own !== [] || $below;
    }

    /**
     * @return list<Place> steps from the record to each value
     */
    public function inRecord(mixed $record): array
    {
        $places = [];
        $this->collect($this->plan->table, [[[], $record]], $places);

        return $places;
    }

    /**
     * @return list<Place> steps from the whole answer to each value
     */
    public function around(mixed $document): array
    {
        $places = [];
        foreach ($this->plan->tables() as $table) {
            foreach ($table->columns as $column) {
                if ($column->source === ColumnSource::Envelope && self::masksValues($column)) {
                    $this->nodes($column, [], $document, $places);
                }
            }
        }

        return $places;
    }

    /**
     * Members that are called like what a masked column reads, anywhere: an answer that says what is wrong
     * has a form of its own.
     *
     * @return list<Place> steps from the whole answer to each value
     */
    public function named(mixed $document): array
    {
        $columns = [];
        foreach ($this->plan->tables() as $table) {
            foreach ($table->columns as $column) {
                $name = self::masksValues($column) ? $column->path?->lastName() : null;
                if ($name !== null) {
                    $columns[$name] ??= $column;
                }
            }
        }
        $places = [];
        self::search($document, [], $columns, $places);

        return $places;
    }

    /**
     * @param  list<string|int>  $steps
     * @param  array<array-key, Column>  $columns
     * @param  list<Place>  $places
     */
    private static function search(mixed $value, array $steps, array $columns, array &$places): void
    {
        foreach (is_array($value) || $value instanceof \stdClass ? (array) $value : [] as $step => $member) {
            $step = is_array($value) ? (int) $step : (string) $step;
            if (isset($columns[$step]) && is_string($step)) {
                $places[] = [[...$steps, $step], $columns[$step]];
            }
            self::search($member, [...$steps, $step], $columns, $places);
        }
    }

    /**
     * Whether masks can stand in the answer itself: nothing that is not masked is read from inside of what
     * is, which would go along with it, and no name of a member is masked, since others are found by it.
     */
    public static function areClear(Plan $plan): bool
    {
        [$masked, $plain] = [[], []];
        self::paths($plan->table, ['$'], $masked, $plain);
        foreach ($plan->tables() as $table) {
            foreach ($table->columns as $column) {
                if ($column->source === ColumnSource::Member && ! $column->isPlain()) {
                    return false;
                }
            }
        }
        foreach ($plain as $path) {
            foreach ($masked as $above) {
                if (preg_match('/^'.preg_quote($above, '/').'[.\[]/', $path) === 1) {
                    return false;
                }
            }
        }

        return true;
    }

    /**
     * Whether the values that the column finds are masked one by one.
     */
    public static function masksValues(Column $column): bool
    {
        return ! $column->isPlain() && in_array($column->source, [ColumnSource::From, ColumnSource::Parent, ColumnSource::Envelope], true) && ($column->single || $column->many !== ManyValues::Count);
    }

    /**
     * @param  non-empty-list<array{list<string|int>, mixed}>  $chain  the record and the elements below it that are at work, with their steps from the record
     * @param  list<Place>  $places
     */
    private function collect(TablePlan $table, array $chain, array &$places): void
    {
        $depth = count($chain) - 1;
        foreach ($this->columns[spl_object_id($table)] ?? [] as $column) {
            [$steps, $value] = $chain[$column->source === ColumnSource::Parent ? max(0, $depth - 1 - $column->up) : $depth];
            $this->nodes($column, $steps, $value, $places);
        }
        [$steps, $value] = $chain[$depth];
        foreach ($table->branches as $branch) {
            if (! isset($this->columns[spl_object_id($branch)])) {
                continue;
            }
            foreach ($branch->from?->nodes($value) ?? [] as $node) {
                $this->collect($branch, [...$chain, [[...$steps, ...$node->location->steps()], $node->value]], $places);
            }
        }
    }

    /**
     * @param  list<string|int>  $steps
     * @param  list<Place>  $places
     */
    private function nodes(Column $column, array $steps, mixed $value, array &$places): void
    {
        if ($column->names !== null) {
            // Most paths are names, and need no search.
            foreach ($column->names as $name) {
                $value = $value instanceof \stdClass ? $value->{$name} ?? null : null;
            }
            if ($value !== null) {
                $places[] = [$steps === [] ? $column->names : [...$steps, ...$column->names], $column];
            }

            return;
        }
        foreach ($column->path?->nodes($value) ?? [] as $node) {
            $places[] = [[...$steps, ...$node->location->steps()], $column];
        }
    }

    /**
     * @param  non-empty-list<string>  $above  paths of the record and the elements above, and of this table
     * @param  list<string>  $masked
     * @param  list<string>  $plain
     */
    private static function paths(TablePlan $table, array $above, array &$masked, array &$plain): void
    {
        $depth = count($above) - 1;
        foreach ($table->columns as $column) {
            if (! in_array($column->source, [ColumnSource::From, ColumnSource::Parent], true)) {
                continue;
            }
            $path = $above[$column->source === ColumnSource::Parent ? max(0, $depth - 1 - $column->up) : $depth].substr((string) $column->path, 1);
            if ($column->isPlain()) {
                $plain[] = $path;
            } else {
                $masked[] = $path;
            }
        }
        foreach ($table->branches as $branch) {
            self::paths($branch, [...$above, $above[$depth].substr((string) $branch->from, 1)], $masked, $plain);
        }
    }
}
