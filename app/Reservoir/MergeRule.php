<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * How staged rows go into the tables that are kept.
 */
final readonly class MergeRule
{
    /**
     * @param  list<list<int>>  $key  places of the columns that carry the key of the record, in each table, the main one first
     * @param  int|null  $newer  place of the column of the main table that grows with each state of a record; null where the state that came last is the newest
     * @param  array{int, string}|null  $deleted  place of a column of the main table, and its value in records that were deleted
     * @param  list<int>|null  $rows  that the tables hold now; null where that is not known for sure, so that they have to be counted
     */
    public function __construct(public array $key, public ?int $newer = null, public ?array $deleted = null, public ?array $rows = null)
    {
    }

    /**
     * @param  list<int>|null  $rows
     */
    public function withRows(?array $rows): self
    {
        return new self($this->key, $this->newer, $this->deleted, $rows);
    }
}
