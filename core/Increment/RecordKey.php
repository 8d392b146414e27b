<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\TablePlan;

/**
 * Which columns carry the key of the record that a row comes from, in the main table and in its branches: by
 * them all rows of a record can be found.
 */
final readonly class RecordKey
{
    /**
     * @param  list<list<int>>  $places  in the rows of each table, in the order of the key; the main table first
     */
    private function __construct(public array $places)
    {
    }

    /**
     * @param  TablePlan  $main  with a key
     *
     * @throws InvalidIncrement where a branch does not carry it
     */
    public static function of(TablePlan $main): self
    {
        $columns = array_column($main->columns, null, 'name');
        $key = array_map(static fn (string $name): Column => $columns[$name], $main->key);
        $places = [];
        self::collect($main, $key, 0, $places);

        return new self($places);
    }

    /**
     * @param  list<Column>  $key
     * @param  list<list<int>>  $places
     *
     * @throws InvalidIncrement
     */
    private static function collect(TablePlan $table, array $key, int $depth, array &$places): void
    {
        $found = [];
        foreach ($key as $part) {
            foreach ($table->columns as $place => $column) {
                if ($places === [] ? $column->name === $part->name : self::carries($column, $part, $depth, $table->isSplit())) {
                    $found[] = $place;

                    continue 2;
                }
            }

            throw InvalidIncrement::because('mode', "The branch table {$table->name} does not carry {$part->name}, the key of its record, so its rows cannot follow a record that changed. Give it a column with parent: ".($part->path->text ?? '$').'.');
        }
        $places[] = $found;
        foreach ($table->branches as $branch) {
            self::collect($branch, $key, $branch->isSplit() ? $depth : $depth + 1, $places);
        }
    }

    private static function carries(Column $column, Column $part, int $depth, bool $isSplit): bool
    {
        if ($column->type->name() !== $part->type->name() || $column->mask !== $part->mask) {
            return false;
        }
        $isSamePath = $column->path !== null && $part->path !== null && $column->path->text === $part->path->text;

        return match ($part->source) {
            ColumnSource::From => $isSamePath && ($column->source === ColumnSource::Parent && $column->up === $depth - 1 || $isSplit && $column->source === ColumnSource::From),
            ColumnSource::Envelope => $isSamePath && $column->source === ColumnSource::Envelope,
            ColumnSource::Input, ColumnSource::Row => $column->source === $part->source && $column->input === $part->input,
            default => false,
        };
    }
}
