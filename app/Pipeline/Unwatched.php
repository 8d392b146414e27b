<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Transport\Sent;

/**
 * Of answers that were known already nobody is told, since nothing was sent for them.
 */
final readonly class Unwatched implements FetchObserver
{
    public function __construct(private FetchObserver $observer)
    {
    }

    public function answered(Sent $sent, int $page, ?int $records): void
    {
    }

    public function again(Sent $sent, int $page, float $wait): void
    {
    }

    public function waits(?string $for, float $until): void
    {
    }

    public function goesOn(): bool
    {
        return $this->observer->goesOn();
    }
}
