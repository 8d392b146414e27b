<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

/**
 * What is made of a column: itself, one value of many, or the stretch of time that it lies in.
 */
enum ColumnUse: string
{
    case Itself = '';
    case Count = 'count';
    case Different = 'different';
    case Sum = 'sum';
    case Mean = 'mean';
    case Least = 'least';
    case Greatest = 'greatest';
    case QuarterHour = 'quarter-hour';
    case Hour = 'hour';
    case Day = 'day';
    case Week = 'week';
    case Month = 'month';
    case Year = 'year';

    public function label(): string
    {
        return match ($this) {
            self::Itself => 'as it is', self::Count => 'count', self::Different => 'count different', self::Sum => 'sum', self::Mean => 'mean', self::Least => 'lowest', self::Greatest => 'highest',
            self::QuarterHour => 'by quarter hour', self::Hour => 'by hour', self::Day => 'by day', self::Week => 'by ISO week', self::Month => 'by month', self::Year => 'by year',
        };
    }

    /**
     * Whether it makes one value of many rows.
     */
    public function isMeasure(): bool
    {
        return in_array($this, [self::Count, self::Different, self::Sum, self::Mean, self::Least, self::Greatest], true);
    }

    /**
     * Whether it needs a moment.
     */
    public function isTime(): bool
    {
        return ! $this->isMeasure() && $this !== self::Itself;
    }

    /**
     * What fits a column.
     *
     * @param  string  $type  of a source file; text for what is not known
     * @return list<self>
     */
    public static function for(string $type): array
    {
        return array_values(array_filter(self::cases(), static fn (self $one): bool => match (true) {
            $one->isTime() => $type === 'datetime' || $type === 'date' && ! in_array($one, [self::QuarterHour, self::Hour], true),
            $one === self::Sum, $one === self::Mean => in_array($type, ['integer', 'decimal', 'float'], true),
            default => true,
        }));
    }

    /**
     * @param  string  $column  as it is named in the statement
     * @param  string|null  $zone  whose clock counts; null for UTC, in which moments are kept
     */
    public function sql(string $column, ?string $zone = null): string
    {
        $at = $zone === null || ! $this->isTime() ? $column : "convert_tz($column, 'UTC', '$zone')";

        return match ($this) {
            self::Itself => $column,
            self::Count => "count($column)",
            self::Different => "count(distinct $column)",
            self::Sum => "sum($column)",
            self::Mean => "avg($column)",
            self::Least => "min($column)",
            self::Greatest => "max($column)",
            self::QuarterHour => "date_add(date($at), interval 15 * (time_to_sec($at) div 900) minute)",
            self::Hour => "date_format($at, '%Y-%m-%d %H:00')",
            self::Day => "date($at)",
            self::Week => "date_format($at, '%x-W%v')",
            self::Month => "date_format($at, '%Y-%m')",
            self::Year => "year($at)",
        };
    }

    /**
     * A name for what it gives.
     */
    public function nameFor(string $column): ?string
    {
        return match ($this) {
            self::Itself => null,
            self::Count => $column === '*' ? 'n' : "n_$column",
            self::Different => "different_$column",
            self::Sum => "total_$column",
            self::Mean => "mean_$column",
            self::Least => "lowest_$column",
            self::Greatest => "highest_$column",
            self::QuarterHour => 'quarter_of_an_hour',
            default => "{$this->value}_of_$column",
        };
    }
}
