<?php

declare(strict_types=1);

namespace DeepSpring\Value;

/**
 * A value that does not fit its column, and why.
 */
final readonly class Unfit
{
    public function __construct(
        public string $reason,
        /** Whether the digits as they were written would fit, which a float does not hold. */
        public bool $needsDigits = false,
    ) {
    }

    public static function digits(string $reason): self
    {
        return new self($reason, true);
    }

    public static function structure(mixed $value): self
    {
        return new self(is_array($value) ? 'an array where one value was expected' : 'an object where one value was expected');
    }
}
