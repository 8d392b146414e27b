<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Moment\UnusablePattern;

/**
 * The `type` of a column in a source file → its class.
 */
final class Types
{
    /** Words of the source file → words of the screen. */
    public const LABELS = [
        'text' => 'text', 'integer' => 'whole number', 'decimal' => 'decimal', 'float' => 'float',
        'boolean' => 'true or false', 'date' => 'date', 'time' => 'time of day', 'datetime' => 'date and time', 'uuid' => 'UUID', 'json' => 'JSON',
    ];

    /** Characters that a text column holds when it is part of a key. */
    public const KEY_LENGTH = 255;

    /**
     * @param  array<string, mixed>  $column  valid by the schema
     *
     * @throws UnusablePattern
     */
    public static function of(array $column, bool $inKey): ColumnType
    {
        return match ($column['type'] ?? 'text') {
            'integer' => new IntegerType($column['read_as'] ?? null),
            'decimal' => new DecimalType($column['scale'] ?? 2, $column['read_as'] ?? null),
            'float' => new FloatType($column['read_as'] ?? null),
            'boolean' => new BooleanType($column['read_as'] ?? null),
            'date' => new DateType($column['read_as'] ?? 'iso'),
            'time' => new TimeType($column['read_as'] ?? 'iso'),
            'datetime' => new DateTimeType($column['read_as'] ?? 'iso', $column['zone'] ?? null),
            'uuid' => new UuidType,
            'json' => new JsonType(($column['read_as'] ?? '') === 'text'),
            default => new TextType($inKey ? self::KEY_LENGTH : null),
        };
    }
}
