<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * Values as the database gives them, as text, → JSON (RFC 8259), digit for digit: numbers as they are kept, moments in
 * UTC (RFC 3339 §5.6), JSON as JSON.
 */
final class FeedValue
{
    private const FLAGS = JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE;

    /**
     * @param  bool  $asTexts  whether whole numbers and decimals are texts, for readers whose numbers are floats (OData JSON 4.01 §3.2, IEEE754Compatible)
     */
    public static function json(FeedColumn $column, ?string $value, bool $asTexts = false): string
    {
        if ($value === null) {
            return 'null';
        }

        return match ($column->type) {
            'integer', 'decimal' => $asTexts ? "\"$value\"" : $value,
            'float' => str_contains($value, '.') || str_contains($value, 'e') ? $value : "$value.0",
            'boolean' => $value === '0' ? 'false' : 'true',
            'date', 'uuid' => "\"$value\"",
            'datetime' => '"'.self::moment($value).'"',
            'time' => '"'.self::time($value).'"',
            'json' => self::tree($value),
            default => (string) json_encode($value, self::FLAGS),
        };
    }

    /**
     * `2031-03-02 09:30:00.250000` → `2031-03-02T09:30:00.25Z`
     */
    public static function moment(string $value): string
    {
        $value[10] = 'T';
        if (isset($value[19])) {
            $value = rtrim(rtrim($value, '0'), '.');
        }

        return $value.'Z';
    }

    public static function time(string $value): string
    {
        if (isset($value[8])) {
            $value = rtrim(rtrim($value, '0'), '.');
        }

        return $value;
    }

    /**
     * Text that should be JSON and is none (a column of a query can be anything) is a text.
     */
    private static function tree(string $value): string
    {
        json_decode($value, false, 512, JSON_BIGINT_AS_STRING);

        return json_last_error() === JSON_ERROR_NONE ? $value : (string) json_encode($value, self::FLAGS);
    }
}
