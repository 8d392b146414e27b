<?php

declare(strict_types=1);

namespace DeepSpring\History;

/**
 * How two states of a table differ.
 */
final readonly class StateDifference
{
    /**
     * @param  int  $before  rows of the earlier state
     * @param  int  $after  rows of the later one
     * @param  int|null  $changed  null without a key, where a changed row is one that went and one that came
     * @param  list<ColumnChange>  $columns  those that differ, the most rows first
     * @param  list<string>  $apart  columns that only one of the two has
     * @param  list<array<string, string|null>>  $rowsCame  some of them
     * @param  list<array<string, string|null>>  $rowsWent  some of them
     * @param  list<array{key: array<string, string|null>, values: array<string, array{string|null, string|null}>}>  $rowsChanged  some of them: the columns that differ, before and after
     */
    public function __construct(
        public int $before, public int $after, public int $came, public int $went, public ?int $changed,
        public array $columns, public array $apart, public array $rowsCame, public array $rowsWent, public array $rowsChanged,
    ) {
    }

    public function isSame(): bool
    {
        return $this->came === 0 && $this->went === 0 && ($this->changed ?? 0) === 0;
    }
}
