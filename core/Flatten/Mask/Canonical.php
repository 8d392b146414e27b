<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Mask;

use Brick\Math\BigDecimal;
use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\Storage;
use DeepSpring\Value\JsonText;

/**
 * One way to write a value, so that equal values have equal hashes: 1.50 is 1.5, and members of an object
 * come in the order of their names.
 */
final class Canonical
{
    /** Powers of ten beyond which a number is left as it is written. */
    private const MOST_POWER = 400;

    /**
     * @param  string  $text  as the type keeps it
     */
    public static function of(ColumnType $type, string $text): string
    {
        return match ($type->storage()) {
            Storage::Integer, Storage::Decimal, Storage::Float => self::number($text),
            Storage::DateTime, Storage::Time => (string) preg_replace('/\.0*$|(\.\d*?)0+$/D', '$1', $text),
            Storage::Json => self::json($text),
            default => $text,
        };
    }

    /**
     * @param  string  $json  RFC 8259
     */
    public static function json(string $json): string
    {
        return self::written(JsonText::decode($json));
    }

    private static function written(mixed $value): string
    {
        if ($value instanceof JsonText) {
            return self::number($value->json);
        }
        if (is_int($value) || is_float($value)) {
            return self::number((string) json_encode($value));
        }
        if ($value instanceof \stdClass) {
            $members = get_object_vars($value);
            ksort($members, SORT_STRING);

            return '{'.implode(',', array_map(static fn (string|int $name, mixed $member): string => JsonText::encode((string) $name).':'.self::written($member), array_keys($members), $members)).'}';
        }

        return is_array($value) ? '['.implode(',', array_map(self::written(...), $value)).']' : JsonText::encode($value);
    }

    private static function number(string $digits): string
    {
        if (preg_match('/^-?\d+(?:\.\d+)?(?:[eE]([+-]?\d+))?$/D', $digits, $part) !== 1 || abs((int) ($part[1] ?? 0)) > self::MOST_POWER) {
            return $digits;
        }
        $number = BigDecimal::of($digits);

        return (string) ($number->getScale() > 0 ? $number->stripTrailingZeros() : $number);
    }
}
