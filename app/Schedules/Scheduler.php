<?php

declare(strict_types=1);

namespace App\Schedules;

/**
 * What the scheduler looks at every few seconds.
 */
final readonly class Scheduler
{
    public function __construct(private ScheduleBook $book, private DueRefreshes $due, private FollowingRefreshes $following)
    {
    }

    /**
     * @return int refreshes begun
     */
    public function tick(): int
    {
        $this->book->align();

        return $this->due->begin() + $this->following->begin();
    }
}
