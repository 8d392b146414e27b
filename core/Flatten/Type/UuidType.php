<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Unfit;

/**
 * A UUID in the form of RFC 9562 §4, in small letters, so that the same one is always the same text.
 */
final readonly class UuidType implements ColumnType
{
    public static function kind(): Kind
    {
        return new Kind('uuid', 'UUID', 'RFC 9562, in small letters.');
    }

    public static function of(array $column, bool $inKey): self
    {
        return new self;
    }

    public function convert(mixed $value): string|Unfit
    {
        if (is_string($value) && preg_match('/^(?:urn:uuid:|\{)?([0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12})\}?$/iD', $value, $part) === 1) {
            return strtolower($part[1]);
        }
        if (is_string($value) && preg_match('/^([0-9a-f]{8})([0-9a-f]{4})([0-9a-f]{4})([0-9a-f]{4})([0-9a-f]{12})$/iD', $value, $part) === 1) {
            return strtolower(implode('-', array_slice($part, 1)));
        }

        return is_array($value) || is_object($value) ? Unfit::structure($value) : new Unfit($value === '' ? 'an empty string where a UUID was expected' : 'not a UUID');
    }

    public function storage(): Storage
    {
        return Storage::FixedText;
    }

    public function name(): string
    {
        return 'uuid';
    }

    public function label(): string
    {
        return 'UUID';
    }
}
