<?php

declare(strict_types=1);

namespace DeepSpring\Value;

/**
 * Numbers with their units, as sentences carry them wherever they are read.
 */
final class Phrase
{
    /**
     * A whole number in groups of three.
     */
    public static function number(int $number): string
    {
        return number_format($number, 0, '.', "\u{2009}");
    }

    /**
     * A number of things: "1 page", "2 pages".
     */
    public static function count(int $number, string $one, ?string $many = null): string
    {
        return self::number($number).' '.($number === 1 ? $one : ($many ?? $one.'s'));
    }

    public static function bytes(int $bytes): string
    {
        return match (true) {
            $bytes < 1024 => self::count($bytes, 'byte'),
            $bytes < 1_048_576 => round($bytes / 1024).' KB',
            default => round($bytes / 1_048_576, 1).' MB',
        };
    }

    /**
     * How long something took.
     */
    public static function duration(int|float $milliseconds): string
    {
        return match (true) {
            $milliseconds < 1000 => round($milliseconds).' ms',
            $milliseconds < 60_000 => round($milliseconds / 1000, 1).' s',
            default => floor($milliseconds / 60_000).' min '.round(fmod($milliseconds / 1000, 60)).' s',
        };
    }
}
