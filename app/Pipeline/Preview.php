<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Flatten\Reject;
use DeepSpring\Flatten\RowBatch;

/**
 * The first rows, in memory, to be looked at.
 */
final class Preview implements Sink
{
    /** @var array<int, list<list<string|null>>> the first rows by the number of their table */
    private array $rows = [];

    /** @var list<Reject> the first of them */
    private array $rejects = [];

    private int $rejected = 0;

    private int $filtered = 0;

    /**
     * @param  int  $most  rows of each table
     */
    public function __construct(private readonly int $most)
    {
    }

    public function begin(): ?array
    {
        return null;
    }

    public function take(ReadPage $page, RowBatch $batch): void
    {
        foreach ($batch->rows as $number => $rows) {
            $there = $this->rows[$number] ?? [];
            $this->rows[$number] = [...$there, ...array_slice($rows, 0, max(0, $this->most - count($there)))];
        }
        $this->rejects = array_slice([...$this->rejects, ...$batch->rejects], 0, $this->most);
        $this->rejected += $batch->rejected;
        $this->filtered += $batch->filtered;
    }

    public function batch(): RowBatch
    {
        return new RowBatch(array_values($this->rows), $this->rejects, $this->rejected, $this->filtered);
    }

    public function isDue(): bool
    {
        return false;
    }

    public function commit(?array $state): void
    {
    }

    public function finish(array $state): void
    {
    }

    public function complete(): void
    {
    }

    public function end(bool $keep = false): void
    {
    }
}
