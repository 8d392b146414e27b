<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

use Brick\Math\BigDecimal;

/**
 * Values as text.
 */
final class Texts
{
    /** Bytes of a text at most. */
    public const LONGEST = 1_000_000;

    /**
     * @throws CannotEvaluate
     */
    public static function of(mixed $value): string
    {
        return match (true) {
            is_string($value) => $value,
            is_int($value), $value instanceof BigDecimal => ExactNumbers::text($value),
            is_bool($value) => $value ? 'true' : 'false',
            $value === null => '',
            default => self::bounded((string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE | JSON_PARTIAL_OUTPUT_ON_ERROR)),
        };
    }

    /**
     * @throws CannotEvaluate
     */
    public static function bounded(string $text): string
    {
        return strlen($text) > self::LONGEST ? throw CannotEvaluate::because('a text of more than 1 MB') : $text;
    }
}
