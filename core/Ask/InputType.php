<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

use DeepSpring\Value\JsonText;

enum InputType: string
{
    case Text = 'text';
    case Integer = 'integer';
    case Number = 'number';
    case Boolean = 'boolean';
    case Date = 'date';
    case DateTime = 'datetime';
    case Json = 'json';
    case File = 'file';

    private const NUMBER = '/^([+-]?)0*(\d*)(?:\.(\d*))?(?:[eE]([+-]?\d+))?$/D';

    /**
     * Why a value is none of this type; null when it is one.
     */
    public function fault(string $value): ?string
    {
        return match ($this) {
            self::Text => mb_check_encoding($value, 'UTF-8') ? null : 'it is not valid UTF-8',
            self::Integer => preg_match('/^-?\d+$/D', $value) === 1 ? null : '"'.self::shown($value).'" is not a whole number',
            self::Number => preg_match('/\d/', $value) === 1 && preg_match(self::NUMBER, $value) === 1 ? null : '"'.self::shown($value).'" is not a number',
            self::Boolean => in_array($value, ['true', 'false'], true) ? null : '"'.self::shown($value).'" is neither true nor false',
            self::Date => self::isDate($value) ? null : '"'.self::shown($value).'" is not a date like 2031-03-02',
            self::DateTime => preg_match('/^(\d{4}-\d\d-\d\d)[T ]([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)?$/D', $value, $part) === 1 && self::isDate($part[1]) ? null : '"'.self::shown($value).'" is not a time like 2031-03-02T09:30:00Z',
            self::Json => self::jsonFault($value),
            self::File => File::of($value) === null ? 'it is not a file' : null,
        };
    }

    /**
     * The value as a JSON document holds it: a number keeps the digits that were typed.
     */
    public function json(string $value): JsonText|string|bool
    {
        return match ($this) {
            self::Integer, self::Number => new JsonText(self::number($value)),
            self::Boolean => $value === 'true',
            self::Json => new JsonText(trim($value)),
            self::File => base64_encode(File::of($value)->content ?? ''),
            default => $value,
        };
    }

    /**
     * As RFC 8259 §6 writes it: no plus sign, no leading zeros, a digit on both sides of the point.
     */
    private static function number(string $value): string
    {
        if (preg_match('/^-?(?:0|[1-9]\d*)(?:\.\d+)?(?:[eE][+-]?\d+)?$/D', $value) === 1) {
            return $value;
        }
        if (preg_match(self::NUMBER, $value, $part) !== 1) {
            return 'null';
        }
        $fraction = $part[3] ?? '';

        return ($part[1] === '-' ? '-' : '').($part[2] === '' ? '0' : $part[2]).($fraction === '' ? '' : ".$fraction").(($part[4] ?? '') === '' ? '' : "e{$part[4]}");
    }

    private static function jsonFault(string $value): ?string
    {
        json_decode($value, false, 512, JSON_BIGINT_AS_STRING);

        return json_last_error() === JSON_ERROR_NONE ? null : 'it is not JSON: '.lcfirst(json_last_error_msg()).' (a text stands in double quotes there)';
    }

    private static function isDate(string $value): bool
    {
        return preg_match('/^(\d{4})-(\d\d)-(\d\d)$/D', $value, $part) === 1 && checkdate((int) $part[2], (int) $part[3], (int) $part[1]);
    }

    private static function shown(string $value): string
    {
        return mb_strimwidth(mb_scrub($value, 'UTF-8'), 0, 60, '…', 'UTF-8');
    }
}
