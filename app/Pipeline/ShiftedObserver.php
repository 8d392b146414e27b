<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Transport\Sent;

/**
 * Tells an observer of pages as they are numbered through all readings.
 */
final readonly class ShiftedObserver implements FetchObserver
{
    public function __construct(private FetchObserver $observer, private int $pages)
    {
    }

    public function answered(Sent $sent, int $page, ?int $records): void
    {
        $this->observer->answered($sent, $page === 0 ? 0 : $page + $this->pages, $records);
    }

    public function again(Sent $sent, int $page, float $wait): void
    {
        $this->observer->again($sent, $page + $this->pages, $wait);
    }

    public function waits(?string $for, float $until): void
    {
        $this->observer->waits($for, $until);
    }

    public function goesOn(): bool
    {
        return $this->observer->goesOn();
    }
}
