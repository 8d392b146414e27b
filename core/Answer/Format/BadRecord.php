<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

/**
 * A part of an answer that is no record.
 */
final readonly class BadRecord
{
    public function __construct(
        /** Where it stands, in words or as a JSONPath. */
        public string $place,
        /** As it came, cut to 500 characters. */
        public string $text,
        public string $reason,
    ) {
    }

    public static function of(string $place, string $text, string $reason): self
    {
        return new self($place, mb_strimwidth(mb_scrub($text, 'UTF-8'), 0, 500, '…', 'UTF-8'), $reason);
    }
}
