<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

/**
 * `Content-Range` (RFC 9110 §14.4): which part of how much.
 */
final readonly class ContentRange
{
    private function __construct(public string $unit, public ?int $first, public ?int $last, public ?int $total)
    {
    }

    public static function parse(string $header): ?self
    {
        if (preg_match('~^\s*(?:([!#$%&\'*+.^_`|\~0-9A-Za-z-]+)[ =])?\s*(?:(\d{1,15})-(\d{1,15})|\*)/(\d{1,15}|\*)\s*$~D', $header, $part, PREG_UNMATCHED_AS_NULL) !== 1) {
            return null;
        }
        $first = $part[2] === null ? null : (int) $part[2];
        $last = $part[3] === null ? null : (int) $part[3];

        return $first !== null && $last < $first ? null : new self((string) $part[1], $first, $last, $part[4] === '*' ? null : (int) $part[4]);
    }
}
