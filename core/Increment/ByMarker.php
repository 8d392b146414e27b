<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

/**
 * By what the last answer of a reading hands out for the next one.
 */
final readonly class ByMarker implements Increment
{
    public function __construct(private string $path, private string $sendAs)
    {
    }

    public function sent(string $mark, \DateTimeImmutable $now): array
    {
        return [$this->sendAs => $mark];
    }

    public function next(?string $mark, SeenValues $seen): ?string
    {
        return $seen->marker ?? $mark;
    }

    public function column(): ?string
    {
        return null;
    }

    public function tellsStates(): bool
    {
        return false;
    }

    public function marker(): string
    {
        return $this->path;
    }

    public function words(): string
    {
        return "from where {$this->path} of the last answer says, sent as {$this->sendAs}";
    }

    public function blind(): string
    {
        return 'What the service lists as changed is seen; records that are deleted are not, unless it lists them.';
    }
}
