<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

/**
 * What a value is. Numbers are `int` or `BigDecimal`; days and times are texts as the database
 * writes them, in UTC; a list is a list; of Any it is known only when it is there.
 */
enum ValueKind: string
{
    case Text = 'a text';
    case Number = 'a number';
    case Boolean = 'true or false';
    case Date = 'a day';
    case DateTime = 'a time with its day';
    case Time = 'a time of day';
    case List = 'a list';
    case Any = 'anything';

    public static function ofColumn(string $type): self
    {
        return match ($type) {
            'integer', 'decimal', 'float' => self::Number,
            'boolean' => self::Boolean,
            'date' => self::Date,
            'datetime' => self::DateTime,
            'time' => self::Time,
            'json' => self::Any,
            default => self::Text,
        };
    }

    /**
     * The type of a column that keeps such values, when no other is asked for.
     */
    public function columnType(): string
    {
        return match ($this) {
            self::Number => 'decimal',
            self::Boolean => 'boolean',
            self::Date => 'date',
            self::DateTime => 'datetime',
            self::Time => 'time',
            self::List, self::Any => 'json',
            self::Text => 'text',
        };
    }

    /**
     * Whether a value of that kind can stand where this one is wanted.
     */
    public function takes(self $given): bool
    {
        return $this === $given || $this === self::Any || $given === self::Any
            || $this === self::Text && $given !== self::List
            || $this === self::Date && $given === self::DateTime
            || $this === self::DateTime && $given === self::Date;
    }

    public function isMoment(): bool
    {
        return $this === self::Date || $this === self::DateTime || $this === self::Time;
    }
}
