<?php

declare(strict_types=1);

namespace DeepSpring\Schedule;

/**
 * When a refresh that is due will probably be read.
 */
final readonly class PlannedRun
{
    /**
     * @param  float|null  $begins  Unix time; null where the one before is still under way then, so that it is left out
     */
    public function __construct(public PlannedRefresh $refresh, public ?float $begins, public ?float $ends)
    {
    }

    /**
     * Seconds that it waits for a worker.
     */
    public function waits(): float
    {
        return $this->begins === null ? 0.0 : $this->begins - $this->refresh->at;
    }
}
