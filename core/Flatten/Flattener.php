<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

/**
 * Records → rows, by a plan. The commonest way (a path of names, a short text) runs inline,
 * everything else through the column's own classes.
 */
final class Flattener
{
    private const REJECTS_HELD = 500;

    /** @var list<Reject> */
    private array $rejects = [];

    private int $rejected = 0;

    /**
     * @param  array<string, string|null>  $inputs  what was sent, by name
     */
    public function __construct(private readonly Plan $plan, private readonly array $inputs = []) {}

    /**
     * @param  list<mixed>  $records
     *
     * @throws FlattenFailure
     */
    public function flatten(array $records): Batch
    {
        $this->rejects = [];
        $this->rejected = 0;
        $rows = array_fill(0, 1 + count($this->plan->branches), []);
        foreach ($records as $index => $record) {
            $row = $this->row($this->plan->table, $record, null, 0, $index);
            if ($row === null) {
                continue;
            }
            $rows[0][] = $row;
            foreach ($this->plan->branches as $number => $branch) {
                $position = 0;
                foreach ($branch->from?->values($record) ?? [] as $child) {
                    $row = $this->row($branch, $child, $record, ++$position, $index);
                    if ($row !== null) {
                        $rows[$number + 1][] = $row;
                    }
                }
            }
        }

        return new Batch(array_values($rows), $this->rejects, $this->rejected);
    }

    /**
     * @return list<string|null>|null null when the record is rejected whole
     */
    private function row(TablePlan $table, mixed $record, mixed $parent, int $position, int $index): ?array
    {
        $row = [];
        foreach ($table->columns as $column) {
            $names = $column->names;
            if ($names === null) {
                $value = $this->value($column, $record, $parent, $position);
            } else {
                $value = $column->source === ColumnSource::Parent ? $parent : $record;
                foreach ($names as $name) {
                    $value = is_object($value) ? $value->{$name} ?? null : null;
                }
            }
            if ($value === null) {
                if ($column->inKey) {
                    $this->reject($table, $column, $index, $position, null, 'a key column is empty, so the record is left out', true);

                    return null;
                }
                $row[] = null;
            } elseif ($column->takesText && is_string($value) && strlen($value) <= Column::SHORT) {
                $row[] = $value;
            } else {
                $fit = $column->type->convert($value);
                if (! is_string($fit)) {
                    $whole = $column->inKey || $column->onBad === OnBad::RejectRecord;
                    $this->reject($table, $column, $index, $position, $value, $fit->reason, $whole);
                    if ($whole) {
                        return null;
                    }
                    $fit = null;
                }
                $row[] = $fit;
            }
        }

        return $row;
    }

    private function value(Column $column, mixed $record, mixed $parent, int $position): mixed
    {
        if ($column->source === ColumnSource::Position) {
            return $position;
        }
        if ($column->path === null) {
            return $this->inputs[$column->input] ?? null;
        }
        $values = $column->path->values($column->source === ColumnSource::Parent ? $parent : $record);

        return $column->single ? $values[0] ?? null : $column->many->reduce($values, $column->with);
    }

    private function reject(TablePlan $table, Column $column, int $index, int $position, mixed $value, string $reason, bool $whole): void
    {
        $path = $table->from !== null && $column->source === ColumnSource::From ? $this->branchPath($table, $position, (string) $column->path) : $column->origin();
        $shown = mb_strimwidth((string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PARTIAL_OUTPUT_ON_ERROR), 0, 500, '…', 'UTF-8');
        $reject = new Reject($table->name, $column->name, $index, $path, $shown, $reason, $whole);
        if ($column->onBad === OnBad::Fail) {
            throw new FlattenFailure($reject);
        }
        $this->rejected++;
        if (count($this->rejects) < self::REJECTS_HELD) {
            $this->rejects[] = $reject;
        }
    }

    private function branchPath(TablePlan $table, int $position, string $path): string
    {
        $from = (string) $table->from;

        return (str_ends_with($from, '[*]') ? substr($from, 0, -3).'['.($position - 1).']' : $from).substr($path, 1);
    }
}
