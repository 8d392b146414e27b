<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Flatten\RowBatch;

/**
 * What has gone through a pipeline.
 */
final class Tally
{
    public int $pages = 0;

    public int $records = 0;

    /** Rows of all tables, before the store says which of them were new. */
    public int $rows = 0;

    public int $rejects = 0;

    /** Rows that a condition left out. */
    public int $filtered = 0;

    /** Bytes of the answers that were read. */
    public int $bytes = 0;

    public function add(ReadPage $page, RowBatch $batch): void
    {
        $this->pages = $page->number;
        // Of an answer that comes in parts, the last one stands for all of it.
        $this->bytes += $page->isPart && $page->sent->stream !== null ? 0 : $page->sent->size();
        $this->records += count($page->records);
        $this->rejects += $batch->rejected;
        $this->filtered += $batch->filtered;
        $this->rows += array_sum(array_map(count(...), $batch->rows));
    }

    /**
     * @return array{pages: int, records: int, rejects: int, filtered: int, bytes: int}
     */
    public function toArray(): array
    {
        return ['pages' => $this->pages, 'records' => $this->records, 'rejects' => $this->rejects, 'filtered' => $this->filtered, 'bytes' => $this->bytes];
    }

    /**
     * As it was at the last commit; what came after it comes again.
     *
     * @param  array<string, int>  $counts
     */
    public function goOn(array $counts, int $rows): void
    {
        foreach (['pages', 'records', 'rejects', 'filtered', 'bytes'] as $name) {
            $this->{$name} = $counts[$name];
        }
        $this->rows = $rows;
    }
}
