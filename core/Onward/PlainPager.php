<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

/**
 * What most pagers say of themselves: they are made of their settings alone, each page needs the one
 * before, and nothing is remembered.
 */
trait PlainPager
{
    public static function of(OnwardDefinition $onward, \DateTimeImmutable $now): self
    {
        return new self($onward);
    }

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
