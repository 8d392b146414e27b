<?php

declare(strict_types=1);

namespace App\Pipeline;

/**
 * What became of the rows of a lookup.
 */
final class LookupCounts
{
    public int $rows = 0;

    /** Rows whose answer was there, from an earlier row, run or lookup. */
    public int $known = 0;

    /** Rows that were asked for. */
    public int $asked = 0;

    /** Rows for which nothing came, or that were not found. */
    public int $empty = 0;

    public int $failed = 0;

    /** Rows that have nothing to ask with. */
    public int $without = 0;

    /**
     * @return array{rows: int, known: int, asked: int, empty: int, failed: int, without: int}
     */
    public function toArray(): array
    {
        return ['rows' => $this->rows, 'known' => $this->known, 'asked' => $this->asked, 'empty' => $this->empty, 'failed' => $this->failed, 'without' => $this->without];
    }

    /**
     * @param  array<string, int>  $counts
     */
    public function goOn(array $counts): void
    {
        foreach (array_keys($this->toArray()) as $name) {
            $this->{$name} = $counts[$name] ?? 0;
        }
    }
}
