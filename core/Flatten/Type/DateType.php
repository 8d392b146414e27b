<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

/**
 * A day (ISO 8601 calendar date, RFC 3339 full-date). A time is let go only when it is midnight
 * without a zone or in UTC.
 */
final class DateType implements ColumnType
{
    /** Days that were checked before; most tables hold few different ones. */
    private const REMEMBERED = 4000;

    /** @var array<string, true> */
    private array $known = [];

    public function convert(mixed $value): string|Unfit
    {
        if (is_string($value) && isset($this->known[$value])) {
            return $value;
        }
        if (! is_string($value)) {
            return is_array($value) || is_object($value) ? Unfit::structure($value) : new Unfit('a number where a date like 2031-03-02 was expected');
        }
        if (preg_match('/^(\d{4})-(\d\d)-(\d\d)(.*)$/sD', $value, $part) !== 1) {
            return new Unfit($value === '' ? 'an empty string where a date was expected' : 'not a date like 2031-03-02');
        }
        if (! checkdate((int) $part[2], (int) $part[3], (int) $part[1])) {
            return new Unfit('no day of the calendar');
        }
        if ($part[4] !== '' && preg_match('/^[T ]00:00(:00(\.0+)?)?Z?$/D', $part[4]) !== 1) {
            return new Unfit('has a time, which a date column would lose');
        }

        if ($part[4] === '') {
            $this->known = count($this->known) < self::REMEMBERED ? $this->known : [];
            $this->known[$value] = true;
        }

        return "$part[1]-$part[2]-$part[3]";
    }

    public function name(): string
    {
        return 'date';
    }

    public function label(): string
    {
        return 'date';
    }
}
