<?php

declare(strict_types=1);

namespace DeepSpring\Pace;

/**
 * What is remembered of a source in one environment, for all workers. Times are seconds since 1970.
 */
final readonly class PaceState
{
    public function __construct(
        /** When the bucket would be full again; nought is long ago. */
        public float $fullAt = 0.0,
        /** Requests a minute that the API's own words or refusals allow now; null when they do not say. */
        public ?float $perMinute = null,
        /** Until when that holds. */
        public float $perMinuteUntil = 0.0,
        /** Requests at once that refusals have left; null for as many as are set. */
        public ?float $atOnce = null,
        /** Nothing is sent before. */
        public float $pausedUntil = 0.0,
        /** Why it is paused or slowed, in a sentence. */
        public ?string $reason = null,
        /** Failures in a row. */
        public int $failures = 0,
        public ?float $failingSince = null,
        /** Until when the breaker is open; null when it is closed. Past it, one request looks whether the source is back. */
        public ?float $openUntil = null,
        /** Seconds it was opened for, which doubles each time. */
        public int $openFor = 0,
        /** Whether one request is looking whether the source is back. */
        public bool $isLooking = false,
        public ?string $lastFailure = null,
    ) {
    }

    /**
     * @param  array<string, mixed>  $changes
     */
    public function but(array $changes): self
    {
        return new self(...($changes + get_object_vars($this)));
    }

    public function breaker(float $now): string
    {
        return match (true) {
            $this->openUntil === null => 'closed',
            $this->isLooking || $now >= $this->openUntil => 'half-open',
            default => 'open',
        };
    }

    /**
     * @return array<string, mixed>
     */
    public function toArray(): array
    {
        return get_object_vars($this);
    }

    /**
     * @param  array<string, mixed>  $from
     */
    public static function fromArray(array $from): self
    {
        $new = new self;

        return $new->but(array_intersect_key($from, get_object_vars($new)));
    }
}
