<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

/**
 * The `type` of a column in a source file → its class.
 */
final class Types
{
    /** Words of the source file → words of the screen. */
    public const LABELS = [
        'text' => 'text', 'integer' => 'whole number', 'decimal' => 'decimal', 'float' => 'float',
        'boolean' => 'true or false', 'date' => 'date', 'datetime' => 'date and time', 'json' => 'JSON',
    ];

    /** Characters that a text column holds when it is part of a key. */
    public const KEY_LENGTH = 255;

    /**
     * @param  array<string, mixed>  $column  valid by the schema
     */
    public static function of(array $column, bool $inKey): ColumnType
    {
        return match ($column['type'] ?? 'text') {
            'integer' => new IntegerType,
            'decimal' => new DecimalType($column['scale'] ?? 2),
            'float' => new FloatType,
            'boolean' => new BooleanType,
            'date' => new DateType,
            'datetime' => new DateTimeType($column['read_as'] ?? 'iso', $column['zone'] ?? null),
            'json' => new JsonType,
            default => new TextType($inKey ? self::KEY_LENGTH : null),
        };
    }
}
