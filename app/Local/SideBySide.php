<?php

declare(strict_types=1);

namespace App\Local;

/**
 * Does several things at once that mostly wait for other processes. Each goes on while the others wait.
 */
final class SideBySide
{
    /** Microseconds between two looks at what is waited for. */
    private const BETWEEN = 20_000;

    /**
     * @param  list<\Closure(): void>  $things  that wait with moment()
     *
     * @throws \Throwable what the first of them threw; the others are not gone on with
     */
    public static function run(array $things): void
    {
        $fibers = array_map(static fn (\Closure $thing): \Fiber => new \Fiber($thing), $things);
        while ($fibers !== []) {
            foreach ($fibers as $number => $fiber) {
                $fiber->isStarted() ? $fiber->resume() : $fiber->start();
                if ($fiber->isTerminated()) {
                    unset($fibers[$number]);
                }
            }
            usleep(self::BETWEEN);
        }
    }

    /**
     * Waits a moment, in which the others go on where there are any.
     */
    public static function moment(): void
    {
        \Fiber::getCurrent() === null ? usleep(self::BETWEEN) : \Fiber::suspend();
    }
}
