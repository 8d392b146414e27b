<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Reservoir\StagedTables;
use DeepSpring\Flatten\RowBatch;

/**
 * What sinks that fill tables of the store have in common.
 */
trait FillsStagedTables
{
    private readonly StagedTables $staged;

    /** Whose rows these are; 0 when nobody goes on with them. */
    private readonly int $run;

    /** Counts up with each process that works for the run. */
    private readonly int $attempt;

    public function begin(): ?array
    {
        return $this->staged->begin($this->run, $this->attempt);
    }

    public function take(ReadPage $page, RowBatch $batch): void
    {
        $this->staged->add($batch);
    }

    public function isDue(): bool
    {
        return $this->staged->isDue();
    }

    public function commit(?array $state): void
    {
        $this->staged->commit($state);
    }

    public function finish(array $state): void
    {
        $this->staged->finish($state);
    }

    public function complete(): void
    {
        if (! $this->staged->isInPlace()) {
            $this->staged->putInPlace();
        }
    }

    public function end(bool $keep = false): void
    {
        $this->staged->end($keep);
    }
}
