<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\Digits;
use DeepSpring\Answer\JsonPath\TooCostly;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Flatten\Mask\Canonical;
use DeepSpring\Flatten\Mask\ConcealedRecords;
use DeepSpring\Flatten\Mask\MaskedPlaces;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\Flatten\Type\IntegerType;
use DeepSpring\Flatten\Type\JsonType;
use DeepSpring\Value\JsonText;
use DeepSpring\Value\Unfit;

/**
 * Records → rows, by a plan that is compiled once (`RowCompiler`).
 *
 * In one piece, since a refresh spends most of its time here, and a call into another object for each
 * value would be felt.
 */
final class Flattener
{
    private const REJECTS_HELD = 2000;

    /** @var list<Reject> */
    private array $rejects = [];

    private int $rejected = 0;

    private int $filtered = 0;

    private readonly RecordAtWork $work;

    /** What hides the values of masked columns; null where none is, or where something else is read from inside of them. */
    private readonly ?ConcealedRecords $concealed;

    /** @var list<list<list<string|null>>> */
    private array $rows = [];

    /** What stands before the name of a column of a row, so that it is none of an input. */
    public const ROW = "row\0";

    /** @var list<TablePlan> */
    private array $tables = [];

    /** @var array<int, \Closure> what makes the rows of each table, out of several records */
    private array $make = [];

    /**
     * @param  array<string, string|null>  $inputs  what was sent, by name
     * @param  Masks|null  $masks  needed where the plan masks
     */
    public function __construct(private readonly Plan $plan, private array $inputs = [], private readonly ?Masks $masks = null)
    {
        if ($masks === null && $plan->isMasked()) {
            throw new \LogicException('A plan that masks needs a key to mask with.');
        }
        $this->work = new RecordAtWork;
        $this->concealed = $masks !== null && $plan->isMasked() && MaskedPlaces::areClear($plan) ? new ConcealedRecords($plan, $masks) : null;
        $this->add($plan->table, 0);
    }

    /**
     * A table, and those of its branches after it.
     */
    private function add(TablePlan $table, int $depth): int
    {
        $number = count($this->tables);
        $this->tables[] = $table;
        $below = $beside = [];
        foreach ($table->branches as $branch) {
            $numberBelow = $this->add($branch, $depth + 1);
            if ($depth === 0 && $branch->isSplit()) {
                $beside[] = $numberBelow;
            } else {
                $below[] = $numberBelow;
            }
        }
        $columns = $table->columns;
        $this->make[$number] = RowCompiler::compile($table, $depth === 0)(
            array_map(static fn (Column $column): Type\ColumnType => $column->type, $columns),
            function (int $column, mixed $value, int $place, mixed $record) use ($depth, $table, $columns): string|false|null {
                $this->work->at($table, $depth, $place, $record);

                return $this->fit($table, $columns[$column], $value);
            },
            function (int $column, mixed $record, int $place) use ($depth, $table, $columns): mixed {
                $this->work->at($table, $depth, $place, $record);

                return $this->found($columns[$column]);
            },
            function (int $column, array $row, int $place, mixed $record) use ($depth, $table, $columns): string|false|null {
                $this->work->at($table, $depth, $place, $record);

                return $column < 0 ? $this->holds($table, $row) : $this->computed($table, $columns[$column], $row);
            },
            $below === [] ? null : fn (int $place, mixed $record) => $this->branches($table, $depth, $below, $place, $record),
            $beside === [] ? null : fn (int $place, mixed $record) => $this->branches($table, $depth, $beside, $place, $record),
            fn (int $place, string $why) => $this->note(new Reject($table->name, '', $place, '$', '', $why, true)),
        );

        return $number;
    }

    /**
     * The records that follow were asked for with something else.
     *
     * @param  array<string, string|null>  $inputs  what was sent, by name, and columns of the row, after ROW
     */
    public function sentWith(array $inputs): void
    {
        $this->inputs = $inputs;
    }

    /**
     * @param  list<mixed>|RecordPage  $records
     * @param  int  $before  records of the same reading that came before these
     *
     * @throws FlattenFailure
     */
    public function flatten(array|RecordPage $records, int $before = 0): RowBatch
    {
        $page = $records instanceof RecordPage ? $records : new RecordPage($records);
        $page = $this->concealed?->page($page) ?? $page;
        $this->work->begin($page, $before);
        [$this->rejects, $this->rejected, $this->filtered] = [[], 0, 0];
        $this->rows = array_fill(0, count($this->tables), []);
        $this->rows[0] = ($this->make[0])($page->values, null, ! $page->hasUnusualNumbers, $page->refused);
        $rows = $this->rows;
        $this->rows = [];
        $this->work->end();

        return new RowBatch($rows, $this->rejects, $this->rejected, $this->filtered);
    }

    /**
     * Rows of the tables inside a record.
     *
     * @param  list<int>  $numbers
     */
    private function branches(TablePlan $table, int $depth, array $numbers, int $place, mixed $record): void
    {
        foreach ($numbers as $number) {
            $this->work->at($table, $depth, $place, $record);
            try {
                $children = $this->work->children($this->tables[$number]);
            } catch (TooCostly $costly) {
                throw FlattenFailure::because($costly);
            }
            foreach (($this->make[$number])($children, $record, ! $this->work->page->hasUnusualNumbers, []) as $row) {
                $this->rows[$number][] = $row;
            }
        }
    }

    /**
     * @return string|false|null false when the record is to be left out
     */
    private function fit(TablePlan $table, Column $column, mixed $value): string|false|null
    {
        if ($value === null) {
            if (! $column->inKey) {
                return null;
            }
            $this->reject($table, $column, null, 'a key column is empty, so the record is left out', true);

            return false;
        }
        $fit = $value instanceof Unfit ? $value : ($column->isPlain() ? ExactFit::of($column->type, $value, $this->work->page->hasUnusualNumbers, fn (): ?string => $this->digits($column)) : $this->masked($column, $value));
        if (is_string($fit)) {
            return $fit;
        }
        $whole = $column->inKey || $column->onBad === OnBad::RejectRecord;
        $this->reject($table, $column, $value, $fit->reason, $whole);

        return $whole ? false : null;
    }

    /**
     * The mask of a value. What stands in the answer was masked there (`ConcealedRecords`).
     */
    private function masked(Column $column, #[\SensitiveParameter] mixed $value): string|Unfit
    {
        if ($this->concealed !== null && MaskedPlaces::masksValues($column)) {
            if (is_array($value)) {
                return JsonText::encode($value);
            }
            $text = is_string($value) ? $value : '';
            $reason = $this->masks?->unfitReason($text);
            if ($column->many === ManyValues::Join && ! $column->single && str_contains($text, 'unfit:')) {
                return Unfit::structure([]);
            }

            return $reason !== null ? new Unfit($reason) : $text;
        }
        if (is_string($value) && Masks::isMasked($value)) {
            return $value;
        }
        $fit = ExactFit::of($column->type, $value, $this->work->page->hasUnusualNumbers, fn (): ?string => $this->digits($column));

        return $fit instanceof Unfit ? $fit : (string) $this->masks?->apply($column->mask, Canonical::of($column->type, $fit));
    }

    /**
     * @return mixed an Unfit where it is not known which value is meant
     */
    private function found(Column $column): mixed
    {
        try {
            return $this->value($column);
        } catch (TooCostly $costly) {
            return $costly->isOfText ? new Unfit($costly->getMessage()) : throw FlattenFailure::because($costly);
        }
    }

    private function value(Column $column): mixed
    {
        return match ($column->source) {
            ColumnSource::Position => $this->work->position($column->up),
            ColumnSource::Input => $this->inputs[$column->input] ?? null,
            ColumnSource::Row => $this->inputs[self::ROW.$column->input] ?? null,
            ColumnSource::Member => $this->work->member($column->up),
            default => $this->reduced($column, $this->work->values($column)),
        };
    }

    /**
     * @param  list<mixed>  $values
     */
    private function reduced(Column $column, array $values): mixed
    {
        if ($column->single) {
            return $values[0] ?? null;
        }
        if ($column->many === ManyValues::Join && array_filter($values, is_float(...)) !== []) {
            return $this->digits($column) ?? $column->many->reduce($values, $column->with);
        }

        return $column->many->reduce($values, $column->with);
    }

    /**
     * The value of a column as its digits were written; null where they are not known.
     */
    private function digits(Column $column): ?string
    {
        $exact = $this->work->exact($column);
        if ($exact === null) {
            return null;
        }
        [$found, $digits] = $exact;
        if ($column->type instanceof JsonType) {
            return $column->single ? ($found === [] ? null : $digits->json($found[0])) : ($column->many === ManyValues::Json ? $digits->json($found) : null);
        }
        $value = $this->reduced($column, array_map($digits->plain(...), $found));

        return is_string($value) ? ($column->type instanceof IntegerType ? (string) preg_replace('/\.0+$/', '', $value) : $value) : null;
    }

    /**
     * @param  array<mixed>  $row
     */
    private function computed(TablePlan $table, Column $column, array $row): string|false|null
    {
        try {
            $value = $column->expression?->value($row);
        } catch (CannotEvaluate $cannot) {
            $whole = $column->inKey || $column->onBad === OnBad::RejectRecord;
            $this->reject($table, $column, null, $cannot->getMessage(), $whole);

            return $whole ? false : null;
        }

        return $this->fit($table, $column, $value);
    }

    /**
     * @param  array<mixed>  $row
     */
    private function holds(TablePlan $table, array $row): ?false
    {
        try {
            if ($table->where?->holds($row) === true) {
                return null;
            }
            $this->filtered++;
        } catch (CannotEvaluate $cannot) {
            $this->note(new Reject($table->name, '', $this->work->index(), 'where', '', $cannot->getMessage().', so the condition cannot be looked at', true));
        }

        return false;
    }

    private function reject(TablePlan $table, Column $column, mixed $value, string $reason, bool $whole): void
    {
        $shown = ! $column->isPlain() && $value !== null ? 'masked' : mb_strimwidth($this->written($column, $value), 0, 500, '…', 'UTF-8');
        $reject = new Reject($table->name, $column->name, $this->work->index(), $this->work->place($column), $shown, $reason, $whole, count($this->rejects) < self::REJECTS_HELD ? $this->key($table) : '');
        if ($column->onBad === OnBad::Fail) {
            throw FlattenFailure::of($reject);
        }
        $this->note($reject);
    }

    /**
     * A value as JSON, with its numbers as they came where PHP would write them otherwise.
     */
    private function written(Column $column, mixed $value): string
    {
        if ($value instanceof Unfit) {
            return '';
        }
        $json = (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_PARTIAL_OUTPUT_ON_ERROR);
        $mayDiffer = json_last_error() !== JSON_ERROR_NONE || $this->work->page->hasUnusualNumbers || preg_match('/\d(?:\.\d|[eE]|\d{18})/', $json) === 1;
        $found = $mayDiffer ? $this->work->exact($column) : null;
        if ($found === null || $found[0] === []) {
            return $json;
        }
        [$values, $digits] = $found;

        return match (true) {
            $column->single, $column->many === ManyValues::First => $digits->json($values[0]),
            $column->many === ManyValues::Last => $digits->json($values[count($values) - 1]),
            default => $digits->json($values),
        };
    }

    private function note(Reject $reject): void
    {
        $this->rejected++;
        if (count($this->rejects) < self::REJECTS_HELD) {
            $this->rejects[] = $reject;
        }
    }

    /**
     * The key of the row at work, as far as it has one.
     */
    private function key(TablePlan $table): string
    {
        $parts = [];
        foreach ($table->columns as $column) {
            $value = $column->inKey && $column->source !== ColumnSource::Compute ? $this->value($column) : null;
            if (is_scalar($value)) {
                $text = $column->isPlain() ? $column->type->convert($value) : $this->masked($column, $value);
                $parts[] = "{$column->name}=".(is_string($text) ? $text : '?');
            }
        }

        return mb_strimwidth(implode(', ', $parts), 0, 190, '…', 'UTF-8');
    }
}
