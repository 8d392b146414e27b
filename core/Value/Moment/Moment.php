<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

use DeepSpring\Value\Unfit;

/**
 * A day, and maybe a time of it, as it was written; checked against the calendar.
 */
final readonly class Moment
{
    /** Seconds since 1970 of 1000-01-01 and 9999-12-31, between which the database keeps days. */
    private const FIRST = -30610224000;

    private const LAST = 253402300799;

    private function __construct(
        /** Of midnight of the day, seconds since 1970, as if it were in UTC. */
        private int $day,
        /** Seconds of the day; null when none was given. */
        public ?int $seconds,
        /** "" or ".5", at most six digits. */
        public string $fraction,
        /** Seconds east of UTC; null when none was given. */
        public ?int $offset,
        /** What of the text is not in it; null where nothing is missing. */
        public ?Loss $loss = null,
    ) {
    }

    /**
     * @param  string  $fraction  digits after the second; more than six are cut
     */
    public static function of(int $year, int $month, int $day, ?int $seconds = null, string $fraction = '', ?int $offset = null): self|Unfit
    {
        if (! checkdate($month, $day, $year) || $year < 1000) {
            return new Unfit('no day of the calendar');
        }

        return new self((int) gmmktime(0, 0, 0, $month, $day, $year), $seconds, self::fraction($fraction), $offset, self::loss($fraction));
    }

    public static function fromSeconds(int $seconds, int $micro = 0, ?int $offset = 0): self|Unfit
    {
        if ($seconds < self::FIRST || $seconds > self::LAST) {
            return new Unfit('outside the years 1000 to 9999');
        }
        $of = (($seconds % 86400) + 86400) % 86400;

        return new self($seconds - $of, $of, $micro === 0 ? '' : sprintf('.%06d', $micro), $offset);
    }

    public static function loss(string $digits): ?Loss
    {
        return strlen($digits) > 6 && trim(substr($digits, 6), '0') !== '' ? Loss::Fraction : null;
    }

    /**
     * The same, of which something is known to be missing.
     */
    public function missing(Loss $loss): self
    {
        return new self($this->day, $this->seconds, $this->fraction, $this->offset, $loss);
    }

    public static function fraction(string $digits): string
    {
        return $digits === '' ? '' : '.'.substr($digits, 0, 6);
    }

    /**
     * The day as it was written, whatever the offset.
     */
    public function day(): string
    {
        return gmdate('Y-m-d', $this->day);
    }

    /**
     * The day of what has no time: midnight without an offset or in UTC.
     */
    public function wholeDay(): string|Unfit
    {
        return $this->isMidnight() && ($this->offset ?? 0) === 0 ? $this->day() : new Unfit('has a time, which a date column would lose');
    }

    public function isMidnight(): bool
    {
        return ($this->seconds ?? 0) === 0 && trim($this->fraction, '.0') === '';
    }

    /**
     * In UTC, with the zone where no offset was given.
     */
    public function utc(\DateTimeZone $zone): string|Unfit
    {
        $local = $this->day + ($this->seconds ?? 0);
        $second = match (true) {
            $this->offset !== null => $local - $this->offset,
            $zone->getName() === 'UTC' => $local,
            default => (new \DateTimeImmutable(gmdate('Y-m-d H:i:s', $local), $zone))->getTimestamp(),
        };

        return $second < self::FIRST || $second > self::LAST ? new Unfit('outside the years 1000 to 9999') : gmdate('Y-m-d H:i:s', $second).$this->fraction;
    }
}
