<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\Digits;
use DeepSpring\Answer\JsonPath\JsonNode;
use DeepSpring\Answer\JsonPath\JsonPath;
use DeepSpring\Answer\JsonPath\Location;
use DeepSpring\Answer\RecordPage;

/**
 * Where flattening is: a record of a page, and the elements inside it that are at work. From here values are found
 * that are not simply members of what becomes a row, and those that decoding changed as they were written.
 */
final class RecordAtWork
{
    public RecordPage $page;

    /** Place of the record among those of its page. */
    private int $index = 0;

    /** Records of the same reading that came before the page. */
    private int $before = 0;

    /** @var array<int, mixed> the record, and the elements of arrays inside, outermost first */
    private array $chain = [];

    /** @var array<int, TablePlan> the tables that those become */
    private array $levels = [];

    /** @var array<int, list<JsonNode>> all elements of the branch at that depth, where somebody asked where they stand */
    private array $nodes = [];

    /** @var array<int, int> places of those elements among all of their branch, and of the record in the reading, from 1 */
    private array $positions = [];

    public function __construct()
    {
        $this->page = new RecordPage([]);
    }

    public function begin(RecordPage $page, int $before): void
    {
        $this->page = $page;
        $this->before = $before;
    }

    /**
     * What is held of a page would be in the way of the next one.
     */
    public function end(): void
    {
        $this->page = new RecordPage([]);
        $this->chain = $this->levels = $this->positions = $this->nodes = [];
    }

    /**
     * @param  int  $depth  how deep inside a record the rows of the table are
     * @param  int  $place  among those of its branch, or of its page, from 0
     */
    public function at(TablePlan $table, int $depth, int $place, mixed $record): void
    {
        if (isset($this->levels[$depth + 1])) {
            array_splice($this->chain, $depth + 1);
            array_splice($this->levels, $depth + 1);
            array_splice($this->positions, $depth + 1);
        }
        if ($depth === 0) {
            $this->index = $place;
        }
        $this->chain[$depth] = $record;
        $this->levels[$depth] = $table;
        $this->positions[$depth] = $place + 1 + ($depth === 0 ? $this->before : 0);
    }

    public function index(): int
    {
        return $this->index;
    }

    /**
     * What becomes a row.
     */
    public function record(): mixed
    {
        return $this->chain[$this->depth()] ?? null;
    }

    /**
     * The elements of a branch inside what is at work.
     *
     * @return list<mixed>
     *
     * @throws \DeepSpring\Answer\JsonPath\TooCostly
     */
    public function children(TablePlan $branch): array
    {
        $depth = $this->depth();
        unset($this->nodes[$depth + 1]);

        return $branch->from === null ? [] : $this->found($branch->from, $depth);
    }

    public function position(int $up): int
    {
        return $this->positions[max(0, $this->depth() - $up)];
    }

    /**
     * The name under which the record, or the element at work, stands in its object.
     */
    public function member(int $up): ?string
    {
        $depth = $this->depth() - $up;
        if ($depth <= 0) {
            return $this->page->members[$this->index] ?? null;
        }
        $steps = $this->steps($depth);

        return $steps === [] ? null : (string) $steps[count($steps) - 1];
    }

    /**
     * What the path of a column finds.
     *
     * @return list<mixed>
     *
     * @throws \DeepSpring\Answer\JsonPath\TooCostly
     */
    public function values(Column $column): array
    {
        return match (true) {
            $column->path === null => [],
            $column->source === ColumnSource::Envelope => $this->around($column->path),
            default => $this->found($column->path, $this->depthOf($column)),
        };
    }

    /**
     * What a column finds in the record, in which numbers are the text of their digits.
     *
     * @return array{list<mixed>, Digits}|null null where they are not known
     */
    public function exact(Column $column): ?array
    {
        $isOfRecord = $column->source === ColumnSource::From || $column->source === ColumnSource::Parent;
        $depth = $this->depthOf($column);
        $exact = $isOfRecord ? $this->exactAt($depth) : null;
        if ($exact === null || $column->path === null) {
            return null;
        }
        [$node, $digits] = $exact;

        return [array_map(static fn (JsonNode $one): mixed => $digits->at($node, $one->location->steps()), $this->nodesOf($column->path, $depth)), $digits];
    }

    /**
     * The normalized path of a value, as far down as the record at work goes.
     */
    public function place(Column $column): string
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

    private function depth(): int
    {
        return count($this->chain) - 1;
    }

    private function depthOf(Column $column): int
    {
        return max(0, $this->depth() - ($column->source === ColumnSource::Parent ? 1 + $column->up : 0));
    }

    /**
     * What a path finds in the record or element at a depth.
     *
     * @return list<mixed>
     */
    private function found(JsonPath $path, int $depth): array
    {
        $value = $this->chain[$depth] ?? null;
        $written = $this->written($path, $depth);

        return $written === null ? $path->values($value) : array_map(static fn (JsonNode $one): mixed => Digits::step($value, $one->location->steps()), $path->nodes($written));
    }

    /**
     * What a path finds there, and where.
     *
     * @return list<JsonNode>
     */
    private function nodesOf(JsonPath $path, int $depth): array
    {
        return $path->nodes($this->written($path, $depth) ?? $this->chain[$depth] ?? null);
    }

    /**
     * The record or element at a depth with its digits, where a filter may compare numbers that are texts after
     * decoding; null where nothing speaks for that, or they are not known.
     */
    private function written(JsonPath $path, int $depth): mixed
    {
        $exact = $path->filters() && self::mayMislead($this->chain[$depth] ?? null) ? $this->exactAt($depth) : null;

        return $exact === null ? null : $exact[1]->written($exact[0]);
    }

    /**
     * What a path finds around the records.
     *
     * @return list<mixed>
     */
    private function around(JsonPath $path): array
    {
        $envelope = $this->page->envelope;
        $digits = $path->filters() && self::mayMislead($envelope) ? $this->page->around() : null;

        return $digits === null ? $path->values($envelope) : array_map(static fn (JsonNode $one): mixed => Digits::step($envelope, $one->location->steps()), $path->nodes($digits->written($digits->document())));
    }

    private static function mayMislead(mixed $value): bool
    {
        return Digits::mayHoldLong((string) json_encode($value, JSON_PARTIAL_OUTPUT_ON_ERROR));
    }

    /**
     * The record or element at a depth, in which numbers are the text of their digits.
     *
     * @return array{mixed, Digits}|null null where they are not known
     */
    private function exactAt(int $depth): ?array
    {
        $exact = $this->page->exact($this->index);
        if ($exact === null) {
            return null;
        }
        [$node, $digits] = $exact;
        for ($level = 1; $level <= $depth; $level++) {
            $node = $digits->at($node, $this->steps($level));
        }

        return [$node, $digits];
    }

    /**
     * Where the element at a depth stands in the one above it.
     *
     * @return list<string|int>
     */
    private function steps(int $depth): array
    {
        $from = $this->levels[$depth]->from;
        $nodes = $this->nodes[$depth] ??= $from === null ? [] : $this->nodesOf($from, $depth - 1);

        return ($nodes[$this->positions[$depth] - 1] ?? null)?->location->steps() ?? [];
    }
}
