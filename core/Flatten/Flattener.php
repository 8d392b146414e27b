<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\Digits;
use DeepSpring\Answer\JsonPath\JsonNode;
use DeepSpring\Answer\JsonPath\Location;
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

    private RecordPage $page;

    /** What hides the values of masked columns; null where none is, or where something else is read from inside of them. */
    private readonly ?ConcealedRecords $concealed;

    /** Place of the record at work among those of its page. */
    private int $index = 0;

    /** @var array<int, mixed> the record, and the elements of arrays inside that are at work, outermost first */
    private array $chain = [];

    /** @var array<int, TablePlan> the tables that those become */
    private array $levels = [];

    /** @var array<int, list<JsonNode>> all elements of the branch at that depth, where somebody asked where they stand */
    private array $nodes = [];

    /** @var array<int, int> places of those elements among all of their branch, and of the record in the reading, from 1 */
    private array $positions = [];

    /** @var list<list<list<string|null>>> */
    private array $rows = [];

    /** What stands before the name of a column of a row, so that it is none of an input. */
    public const ROW = "row\0";

    /** @var non-empty-list<TablePlan> */
    private readonly array $tables;

    /** @var array<int, int> by the object id of a table plan → its number */
    private readonly array $numbers;

    /** @var list<\Closure> what makes a row, for each table */
    private readonly array $make;

    /** @var list<array{list<Type\ColumnType>, \Closure, \Closure, \Closure}> types and helpers, for each table */
    private readonly array $helpers;

    /**
     * @param  array<string, string|null>  $inputs  what was sent, by name
     * @param  Masks|null  $masks  needed where the plan masks
     */
    public function __construct(private readonly Plan $plan, private array $inputs = [], private readonly ?Masks $masks = null)
    {
        if ($masks === null && $plan->isMasked()) {
            throw new \LogicException('A plan that masks needs a key to mask with.');
        }
        $this->page = new RecordPage([]);
        $this->concealed = $masks !== null && $plan->isMasked() && MaskedPlaces::areClear($plan) ? new ConcealedRecords($plan, $masks) : null;
        $this->tables = $plan->tables();
        $numbers = [];
        $helpers = [];
        foreach ($this->tables as $number => $table) {
            $numbers[spl_object_id($table)] = $number;
            $helpers[] = [
                array_map(static fn (Column $column): Type\ColumnType => $column->type, $table->columns),
                fn (int $column, mixed $value): string|false|null => $this->fit($table, $table->columns[$column], $value),
                fn (int $column, mixed $record): mixed => $this->found($table->columns[$column], $record),
                fn (int $column, array $row): string|false|null => $column < 0 ? $this->holds($table, $row) : $this->computed($table, $table->columns[$column], $row),
            ];
        }
        $this->numbers = $numbers;
        $this->helpers = $helpers;
        $this->make = array_map(RowCompiler::compile(...), $this->tables);
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
        $this->page = $this->concealed?->page($page) ?? $page;
        [$this->rejects, $this->rejected, $this->filtered] = [[], 0, 0];
        $this->rows = array_fill(0, count($this->tables), []);
        $make = $this->make[0];
        [$types, $fit, $value, $compute] = $this->helpers[0];
        $short = ! $this->page->hasUnusualNumbers;
        $refused = $this->page->refused;
        $branches = $this->plan->table->branches;
        $ordinary = array_values(array_filter($branches, static fn (TablePlan $branch): bool => ! $branch->isSplit()));
        $splits = array_values(array_filter($branches, static fn (TablePlan $branch): bool => $branch->isSplit()));
        foreach ($this->page->values as $index => $record) {
            $this->index = $index;
            if (isset($refused[$index])) {
                $this->note(new Reject($this->plan->table->name, '', $index, '$', '', $refused[$index], true));

                continue;
            }
            $this->chain = [$record];
            $this->levels = [$this->plan->table];
            $this->positions = [$before + $index + 1];
            $row = $make($record, null, $before + $index + 1, $short, $types, $fit, $value, $compute);
            if ($row !== null) {
                $this->rows[0][] = $row;
                foreach ($ordinary as $branch) {
                    $this->branch($branch, $record, $short);
                }
            }
            foreach ($splits as $branch) {
                $this->branch($branch, $record, $short);
            }
        }
        $rows = $this->rows;
        $this->rows = [];

        return new RowBatch($rows, $this->rejects, $this->rejected, $this->filtered);
    }

    private function branch(TablePlan $branch, mixed $parent, bool $short): void
    {
        if ($branch->from === null) {
            return;
        }
        $number = $this->numbers[spl_object_id($branch)];
        $make = $this->make[$number];
        [$types, $fit, $value, $compute] = $this->helpers[$number];
        $depth = count($this->chain);
        unset($this->nodes[$depth]);
        try {
            $children = $branch->from->values($parent);
        } catch (TooCostly $costly) {
            throw FlattenFailure::because($costly);
        }
        foreach ($children as $place => $child) {
            $this->chain[$depth] = $child;
            $this->levels[$depth] = $branch;
            $this->positions[$depth] = $place + 1;
            $row = $make($child, $parent, $place + 1, $short, $types, $fit, $value, $compute);
            if ($row === null) {
                continue;
            }
            $this->rows[$number][] = $row;
            foreach ($branch->branches as $below) {
                $this->branch($below, $child, $short);
            }
        }
        array_splice($this->chain, $depth);
        array_splice($this->levels, $depth);
        array_splice($this->positions, $depth);
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
        $fit = $value instanceof Unfit ? $value : ($column->isPlain() ? ExactFit::of($column->type, $value, $this->page->hasUnusualNumbers, fn (): ?string => $this->digits($column)) : $this->masked($column, $value));
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
        $fit = ExactFit::of($column->type, $value, $this->page->hasUnusualNumbers, fn (): ?string => $this->digits($column));

        return $fit instanceof Unfit ? $fit : (string) $this->masks?->apply($column->mask, Canonical::of($column->type, $fit));
    }

    /**
     * @return mixed an Unfit where it is not known which value is meant
     */
    private function found(Column $column, mixed $record): mixed
    {
        try {
            return $this->value($column, $record);
        } catch (TooCostly $costly) {
            return $costly->isOfText ? new Unfit($costly->getMessage()) : throw FlattenFailure::because($costly);
        }
    }

    private function value(Column $column, mixed $record): mixed
    {
        $depth = count($this->chain) - 1;

        return match ($column->source) {
            ColumnSource::Position => $this->positions[max(0, $depth - $column->up)],
            ColumnSource::Input => $this->inputs[$column->input] ?? null,
            ColumnSource::Row => $this->inputs[self::ROW.$column->input] ?? null,
            ColumnSource::Member => $this->member($column),
            ColumnSource::Envelope => $this->reduced($column, $column->path?->values($this->page->envelope) ?? []),
            ColumnSource::Parent => $this->reduced($column, $column->path?->values($this->chain[max(0, $depth - 1 - $column->up)]) ?? []),
            default => $this->reduced($column, $column->path?->filters() === true ? $this->filtered($column, $record) : $column->path?->values($record) ?? []),
        };
    }

    /**
     * What a path with a filter finds; among the digits, where numbers that it may compare are texts after
     * decoding.
     *
     * @return list<mixed>
     */
    private function filtered(Column $column, mixed $record): array
    {
        $mayMislead = Digits::mayHoldLong((string) json_encode($record, JSON_PARTIAL_OUTPUT_ON_ERROR));
        $exact = $mayMislead ? $this->page->exact($this->index) : null;
        if ($exact === null) {
            return $column->path?->values($record) ?? [];
        }
        [$node, $digits] = $exact;
        for ($level = 1; $level < count($this->chain); $level++) {
            $node = $digits->at($node, $this->steps($level));
        }

        return array_map(static fn (JsonNode $one): mixed => $digits->at($record, $one->location->steps()), $column->path?->nodes($digits->written($node)) ?? []);
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
     * The name under which the record, or the element at work, stands in its object.
     */
    private function member(Column $column): ?string
    {
        $depth = count($this->chain) - 1 - $column->up;
        if ($depth <= 0) {
            return $this->page->members[$this->index] ?? null;
        }
        $steps = $this->steps($depth);

        return $steps === [] ? null : (string) $steps[count($steps) - 1];
    }

    /**
     * Where the element at a depth stands in the one above it.
     *
     * @return list<string|int>
     */
    private function steps(int $depth): array
    {
        $nodes = $this->nodes[$depth] ??= $this->levels[$depth]->from?->nodes($this->chain[$depth - 1]) ?? [];

        return ($nodes[$this->positions[$depth] - 1] ?? null)?->location->steps() ?? [];
    }

    /**
     * The value of a column as its digits were written; null where they are not known.
     */
    private function digits(Column $column): ?string
    {
        $exact = $this->exact($column);
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
     * What a column finds in the record, in which numbers are the text of their digits.
     *
     * @return array{list<mixed>, Digits}|null null where they are not known
     */
    private function exact(Column $column): ?array
    {
        $depth = count($this->chain) - 1 - ($column->source === ColumnSource::Parent ? 1 + $column->up : 0);
        $isOfRecord = $column->source === ColumnSource::From || $column->source === ColumnSource::Parent;
        $exact = $isOfRecord ? $this->page->exact($this->index) : null;
        if ($exact === null || $column->path === null) {
            return null;
        }
        [$node, $digits] = $exact;
        $depth = max(0, $depth);
        for ($level = 1; $level <= $depth; $level++) {
            $node = $digits->at($node, $this->steps($level));
        }

        return [array_map(static fn (JsonNode $one): mixed => $digits->at($node, $one->location->steps()), $column->path->nodes($this->chain[$depth])), $digits];
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
            $this->note(new Reject($table->name, '', $this->index, 'where', '', $cannot->getMessage().', so the condition cannot be looked at', true));
        }

        return false;
    }

    private function reject(TablePlan $table, Column $column, mixed $value, string $reason, bool $whole): void
    {
        $shown = ! $column->isPlain() && $value !== null ? 'masked' : mb_strimwidth($this->written($column, $value), 0, 500, '…', 'UTF-8');
        $reject = new Reject($table->name, $column->name, $this->index, $this->place($column), $shown, $reason, $whole, count($this->rejects) < self::REJECTS_HELD ? $this->key($table) : '');
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
        $mayDiffer = json_last_error() !== JSON_ERROR_NONE || $this->page->hasUnusualNumbers || preg_match('/\d(?:\.\d|[eE]|\d{18})/', $json) === 1;
        $found = $mayDiffer ? $this->exact($column) : null;
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
     * The normalized path of a value, as far down as the record at work goes.
     */
    private function place(Column $column): string
    {
        if ($column->source !== ColumnSource::From) {
            return $column->origin();
        }
        $path = '$';
        for ($depth = 1; $depth < count($this->chain); $depth++) {
            $path .= implode('', array_map(Location::short(...), $this->steps($depth)));
        }

        return $path.substr((string) $column->path, 1);
    }

    /**
     * The key of the row at work, as far as it has one.
     */
    private function key(TablePlan $table): string
    {
        $parts = [];
        foreach ($table->columns as $column) {
            $value = $column->inKey && $column->source !== ColumnSource::Compute ? $this->value($column, $this->chain[count($this->chain) - 1]) : null;
            if (is_scalar($value)) {
                $text = $column->isPlain() ? $column->type->convert($value) : $this->masked($column, $value);
                $parts[] = "{$column->name}=".(is_string($text) ? $text : '?');
            }
        }

        return mb_strimwidth(implode(', ', $parts), 0, 190, '…', 'UTF-8');
    }
}
