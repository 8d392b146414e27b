<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

/**
 * What most pagers say of themselves: each page needs the one before, and nothing is remembered.
 */
trait PlainPager
{
    public function ahead(int $number): ?PageRequest
    {
        return null;
    }

    public function endsEmpty(): bool
    {
        return true;
    }

    public function statuses(): array
    {
        return [];
    }

    public function memory(): array
    {
        return [];
    }

    public function remember(array $memory): void
    {
    }
}
