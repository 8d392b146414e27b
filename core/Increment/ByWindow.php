<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

/**
 * By a window of time up to now, which is read anew each time.
 */
final readonly class ByWindow implements Increment
{
    public function __construct(private string $sendAs, private ?string $untilAs, private SentMoment $format, private \DateInterval $window, private string $windowWords)
    {
    }

    public function sent(string $mark, \DateTimeImmutable $now): array
    {
        return [$this->sendAs => $this->format->written($now->sub($this->window))] + ($this->untilAs === null ? [] : [$this->untilAs => $this->format->written($now)]);
    }

    public function next(?string $mark, SeenValues $seen): string
    {
        return 'read';
    }

    public function column(): ?string
    {
        return null;
    }

    public function tellsStates(): bool
    {
        return false;
    }

    public function marker(): ?string
    {
        return null;
    }

    public function words(): string
    {
        return "the last {$this->windowWords}, sent as {$this->sendAs}".($this->untilAs === null ? '' : " and {$this->untilAs}");
    }

    public function blind(): string
    {
        return 'Changes of older records, and records that are deleted, are not seen.';
    }
}
