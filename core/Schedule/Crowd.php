<?php

declare(strict_types=1);

namespace DeepSpring\Schedule;

/**
 * A moment at which more is due than can be read at once.
 */
final readonly class Crowd
{
    /**
     * @param  int  $at  Unix time
     * @param  int  $due  refreshes that are due then
     * @param  float  $longestWait  seconds until the last of them begins
     * @param  list<string>  $leftOut  names that are still being read from the time before, and are not begun again
     */
    public function __construct(public int $at, public int $due, public float $longestWait, public array $leftOut)
    {
    }
}
