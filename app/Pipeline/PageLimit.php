<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Flatten\RowBatch;

/**
 * Stops after a number of pages.
 */
final readonly class PageLimit implements PipelineObserver
{
    public function __construct(private int $most)
    {
    }

    public function made(ReadPage $page, RowBatch $batch): void
    {
    }

    public function committed(bool $canGoOn): void
    {
    }

    public function taken(Tally $tally): bool
    {
        return $tally->pages < $this->most;
    }
}
