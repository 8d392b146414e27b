<?php

declare(strict_types=1);

namespace DeepSpring\Note;

/**
 * When a message that did not arrive is sent again: soon first, then ever later, for a day and a half in all
 * (Standard Webhooks 1.0.0, "Retry schedule").
 */
final class RetryTimes
{
    /** Seconds between an attempt that failed and the next one. */
    private const AFTER = [5, 300, 1800, 7200, 18000, 36000, 50400];

    /**
     * @param  int  $attempts  that failed; one at least
     * @return int|null seconds; null when it is given up
     */
    public static function after(int $attempts): ?int
    {
        return self::AFTER[$attempts - 1] ?? null;
    }

    /**
     * How often it is sent at most.
     */
    public static function most(): int
    {
        return count(self::AFTER) + 1;
    }
}
