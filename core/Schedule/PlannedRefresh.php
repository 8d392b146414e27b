<?php

declare(strict_types=1);

namespace DeepSpring\Schedule;

/**
 * One refresh that is due at a moment, and how long such a one usually takes.
 */
final readonly class PlannedRefresh
{
    /**
     * @param  string  $name  what is refreshed; the same is never refreshed twice at once
     * @param  string  $source  whose pace it shares
     * @param  int  $at  Unix time
     * @param  float  $seconds  that it takes
     */
    public function __construct(public string $name, public string $source, public int $at, public float $seconds)
    {
    }
}
