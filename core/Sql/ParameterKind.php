<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

enum ParameterKind: string
{
    case Text = 'text';
    case Number = 'number';
    case Date = 'date';
    case Moment = 'moment';

    public function label(): string
    {
        return match ($this) {
            self::Text => 'text', self::Number => 'number', self::Date => 'date', self::Moment => 'date and time',
        };
    }

    /**
     * What is said of it beside its field.
     */
    public function hint(): string
    {
        return match ($this) {
            self::Text => '', self::Number => 'like 12 or -3.5',
            self::Date => 'like 2031-04-09, or in words: today, 7 days ago, start of month',
            self::Moment => 'like 2031-04-09 14:30, or in words: now, 24 hours ago, start of month, 1 year ago',
        };
    }
}
