<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

/**
 * A moment, kept in UTC to the microsecond: ISO 8601 (RFC 3339 date-time), or seconds or
 * milliseconds since 1970. A text without an offset is read in the column's zone.
 */
final class DateTimeType implements ColumnType
{
    private const ISO = '/^(\d{4})-(\d\d)-(\d\d)(?:[Tt ]([01]\d|2[0-3]):([0-5]\d)(?::([0-5]\d|60)(?:[.,](\d{1,9}))?)?(?:([Zz])|([+-])(\d\d):?(\d\d)?)?)?$/D';

    /** The form that most APIs send; its day is still checked. */
    private const USUAL = '/^\d{4}-\d\d-\d\dT(?:[01]\d|2[0-3]):[0-5]\d:[0-5]\d(?:\.\d{1,6})?Z$/D';

    private readonly \DateTimeZone $zone;

    private readonly bool $isUtc;

    private readonly DateType $day;

    public function __construct(public readonly string $readAs = 'iso', ?string $zone = null)
    {
        $this->day = new DateType;
        $this->zone = new \DateTimeZone($zone ?? 'UTC');
        $this->isUtc = in_array($this->zone->getName(), ['UTC', '+00:00', 'Z'], true);
    }

    public function convert(mixed $value): string|Unfit
    {
        if (is_array($value) || is_object($value)) {
            return Unfit::structure($value);
        }
        if ($this->readAs !== 'iso') {
            return $this->fromEpoch($value);
        }
        if (is_string($value) && preg_match(self::USUAL, $value) === 1 && $value[0] !== '0' && is_string($day = $this->day->convert(substr($value, 0, 10)))) {
            return $day.' '.substr($value, 11, -1);
        }
        if (! is_string($value) || preg_match(self::ISO, $value, $part, PREG_UNMATCHED_AS_NULL) !== 1) {
            return new Unfit($value === '' ? 'an empty string where a time was expected' : 'not a time like 2031-03-02T09:30:00Z');
        }
        if (! checkdate((int) $part[2], (int) $part[3], (int) $part[1]) || (int) $part[1] < 1000) {
            return new Unfit('no day of the calendar');
        }
        $seconds = $part[6] ?? '00';
        $fraction = isset($part[7]) ? '.'.substr(str_pad($part[7], 6, '0'), 0, 6) : '';
        $hasZone = isset($part[8]) || isset($part[9]);
        if ($seconds !== '60' && (isset($part[8]) || (! $hasZone && $this->isUtc))) {
            return "$part[1]-$part[2]-$part[3] ".($part[4] ?? '00').':'.($part[5] ?? '00').":$seconds$fraction";
        }
        if (isset($part[9])) {
            $offset = ((int) $part[10] * 60 + (int) ($part[11] ?? 0)) * 60 * ($part[9] === '-' ? -1 : 1);

            return $this->fit((int) gmmktime((int) $part[4], (int) $part[5], (int) $seconds, (int) $part[2], (int) $part[3], (int) $part[1]) - $offset, $fraction);
        }
        $local = new \DateTimeImmutable("$part[1]-$part[2]-$part[3] ".($part[4] ?? '00').':'.($part[5] ?? '00').":$seconds", isset($part[8]) ? new \DateTimeZone('UTC') : $this->zone);

        return $this->fit($local->getTimestamp(), $fraction);
    }

    private function fromEpoch(mixed $value): string|Unfit
    {
        if (is_string($value) && preg_match('/^-?\d+(\.\d+)?$/D', $value) === 1) {
            $value = str_contains($value, '.') ? (float) $value : (int) $value;
        }
        if (! is_int($value) && ! is_float($value)) {
            return new Unfit('not a number of '.($this->readAs === 'epoch' ? 'seconds' : 'milliseconds').' since 1970');
        }
        if (abs($value) > 1e15) {
            return new Unfit('outside the years 1000 to 9999');
        }
        $micro = is_int($value)
            ? ($this->readAs === 'epoch' ? ($value > 253402300799 ? PHP_INT_MAX : $value * 1_000_000) : $value * 1000)
            : (int) round($value * ($this->readAs === 'epoch' ? 1_000_000 : 1000));
        $second = intdiv($micro, 1_000_000) - ($micro % 1_000_000 < 0 ? 1 : 0);
        $rest = $micro - $second * 1_000_000;

        return $this->fit($second, $rest === 0 ? '' : sprintf('.%06d', $rest));
    }

    private function fit(int $second, string $fraction): string|Unfit
    {
        return $second < -30610224000 || $second > 253402300799
            ? new Unfit('outside the years 1000 to 9999')
            : gmdate('Y-m-d H:i:s', $second).$fraction;
    }

    public function name(): string
    {
        return 'datetime';
    }

    public function label(): string
    {
        return 'date and time, UTC';
    }
}
