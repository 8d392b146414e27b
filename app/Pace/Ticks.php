<?php

declare(strict_types=1);

namespace App\Pace;

/**
 * Time for waiting within one process: it only ever goes on, whatever happens to the clock of the
 * machine. What is kept for others is in the time of the clock, and is put right where that cannot be.
 */
final readonly class Ticks
{
    /**
     * Seconds since some moment in the past.
     */
    public static function now(): float
    {
        return hrtime(true) / 1e9;
    }
}
