<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

use DeepSpring\Value\Kind\Family;
use DeepSpring\Value\Moment\UnusablePattern;

/**
 * The column types there are. A new one is a class that implements `ColumnType`, and a line here.
 */
final class Types
{
    private const ALL = [
        TextType::class, IntegerType::class, DecimalType::class, FloatType::class, BooleanType::class, DateType::class, TimeType::class, DateTimeType::class,
        UuidType::class, JsonType::class,
    ];

    /** Characters that a text column holds when it is part of a key. */
    public const KEY_LENGTH = 255;

    /** @var Family<ColumnType>|null */
    private static ?Family $family = null;

    /**
     * @return Family<ColumnType>
     */
    public static function family(): Family
    {
        return self::$family ??= new Family(ColumnType::class, self::ALL);
    }

    /**
     * @param  array<string, mixed>  $column  valid by the schema
     *
     * @throws UnusablePattern
     */
    public static function of(array $column, bool $inKey): ColumnType
    {
        $class = self::family()->class($column['type'] ?? 'text') ?? TextType::class;

        return $class::of($column, $inKey);
    }
}
