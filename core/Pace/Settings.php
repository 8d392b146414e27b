<?php

declare(strict_types=1);

namespace DeepSpring\Pace;

/**
 * How fast a source may be asked, as its file says.
 */
final readonly class Settings
{
    public function __construct(
        /** Requests a minute, of all workers together; null when nothing limits them. */
        public ?int $perMinute = null,
        /** Requests under way at once, of all workers together. */
        public int $atOnce = 4,
        /** Seconds for one request. */
        public int $timeout = 30,
        /** How often one request is sent at most. */
        public int $tries = 5,
        /** Seconds that a run goes on trying while the source fails. */
        public int $patience = 180,
    ) {
    }

    /**
     * @param  array<string, int>  $pace  of a source file
     */
    public static function of(array $pace): self
    {
        $tries = $pace['tries'] ?? 5;

        return new self($pace['per_minute'] ?? null, $pace['at_once'] ?? 4, $pace['timeout'] ?? 30, $tries, $pace['patience'] ?? ($tries === 1 ? 0 : 180));
    }

    /**
     * For a person who waits: what fails is said at once.
     */
    public function forTries(): self
    {
        return new self($this->perMinute, $this->atOnce, $this->timeout, 1, 0);
    }
}
