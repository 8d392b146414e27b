<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

enum InputType: string
{
    case Text = 'text';
    case Integer = 'integer';
    case Number = 'number';
    case Boolean = 'boolean';
    case Date = 'date';
    case DateTime = 'datetime';

    /**
     * Why a value is none of this type; null when it is one.
     */
    public function fault(string $value): ?string
    {
        return match ($this) {
            self::Text => null,
            self::Integer => preg_match('/^-?\d+$/D', $value) === 1 ? null : "\"$value\" is not a whole number",
            self::Number => is_numeric($value) && trim($value) === $value ? null : "\"$value\" is not a number",
            self::Boolean => in_array($value, ['true', 'false'], true) ? null : "\"$value\" is neither true nor false",
            self::Date => self::isDate($value) ? null : "\"$value\" is not a date like 2031-03-02",
            self::DateTime => preg_match('/^(\d{4}-\d\d-\d\d)[T ]([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)?$/D', $value, $part) === 1 && self::isDate($part[1]) ? null : "\"$value\" is not a time like 2031-03-02T09:30:00Z",
        };
    }

    private static function isDate(string $value): bool
    {
        return preg_match('/^(\d{4})-(\d\d)-(\d\d)$/D', $value, $part) === 1 && checkdate((int) $part[2], (int) $part[3], (int) $part[1]);
    }
}
