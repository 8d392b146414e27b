<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

/**
 * Records → rows, by a plan that is compiled once (`RowCompiler`).
 */
final class Flattener
{
    private const REJECTS_HELD = 500;

    /** @var list<Reject> */
    private array $rejects = [];

    private int $rejected = 0;

    /** Place of the record at work among those of its page. */
    private int $index = 0;

    /** @var list<\Closure(mixed, mixed, int, \Closure, \Closure): (list<string|null>|null)> for each table */
    private readonly array $rows;

    /** @var list<\Closure(int, mixed, int): (string|false|null)> */
    private readonly array $fits;

    /** @var list<\Closure(int, mixed, mixed, int): mixed> */
    private readonly array $values;

    /**
     * @param  array<string, string|null>  $inputs  what was sent, by name
     */
    public function __construct(private readonly Plan $plan, private readonly array $inputs = [])
    {
        $this->rows = array_map(RowCompiler::compile(...), $plan->tables());
        $this->fits = array_map(fn (TablePlan $table): \Closure => fn (int $number, mixed $value, int $position): string|false|null => $this->fit($table, $table->columns[$number], $value, $position), $plan->tables());
        $this->values = array_map(fn (TablePlan $table): \Closure => fn (int $number, mixed $record, mixed $parent, int $position): mixed => $this->value($table->columns[$number], $record, $parent, $position), $plan->tables());
    }

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
        $makeRow = $this->rows[0];
        foreach ($records as $index => $record) {
            $this->index = $index;
            $row = $makeRow($record, null, 0, $this->fits[0], $this->values[0]);
            if ($row === null) {
                continue;
            }
            $rows[0][] = $row;
            foreach ($this->plan->branches as $number => $branch) {
                $position = 0;
                foreach ($branch->from?->values($record) ?? [] as $child) {
                    $row = $this->rows[$number + 1]($child, $record, ++$position, $this->fits[$number + 1], $this->values[$number + 1]);
                    if ($row !== null) {
                        $rows[$number + 1][] = $row;
                    }
                }
            }
        }

        return new Batch($rows, $this->rejects, $this->rejected);
    }

    /**
     * @return string|false|null false when the record is to be left out
     */
    private function fit(TablePlan $table, Column $column, mixed $value, int $position): string|false|null
    {
        if ($value === null) {
            $this->reject($table, $column, $position, null, 'a key column is empty, so the record is left out', true);

            return false;
        }
        $fit = $column->type->convert($value);
        if (is_string($fit)) {
            return $fit;
        }
        $whole = $column->inKey || $column->onBad === OnBad::RejectRecord;
        $this->reject($table, $column, $position, $value, $fit->reason, $whole);

        return $whole ? false : null;
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

    private function reject(TablePlan $table, Column $column, int $position, mixed $value, string $reason, bool $whole): void
    {
        $path = $table->from !== null && $column->source === ColumnSource::From ? $this->branchPath($table, $position, (string) $column->path) : $column->origin();
        $shown = mb_strimwidth((string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PARTIAL_OUTPUT_ON_ERROR), 0, 500, '…', 'UTF-8');
        $reject = new Reject($table->name, $column->name, $this->index, $path, $shown, $reason, $whole);
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
