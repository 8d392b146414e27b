<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

use DeepSpring\Value\Unfit;

/**
 * ISO 8601-1: calendar, ordinal and week dates, basic and extended, with fractions of seconds and
 * offsets; RFC 3339 is a part of it, and the suffix of RFC 9557 is passed over.
 */
final readonly class Iso implements MomentReader
{
    private const DAY = '(?<y>\d{4})(?:-(?<m>\d\d)-(?<d>\d\d)|(?<mb>\d\d)(?<db>\d\d)|-(?<n>\d{3})|(?<nb>\d{3})|-W(?<w>\d\d)-(?<wd>[1-7])|W(?<wb>\d\d)(?<wdb>[1-7]))';

    private const TIME = '(?<h>[01]\d|2[0-4])(?::?(?<i>[0-5]\d)(?::?(?<s>[0-5]\d|60)(?:[.,](?<f>\d{1,9}))?)?)?';

    private const OFFSET = '(?:(?<z>[Zz])|[ ]?(?<sign>[+-])(?<oh>0\d|1[0-8])(?::?(?<oi>[0-5]\d))?)';

    public const PATTERN = '/^'.self::DAY.'(?:[Tt ]'.self::TIME.self::OFFSET.'?(?:\[!?[A-Za-z0-9_+\/=-]+\])*)?$/D';

    public function read(string|int|float|bool $value): Moment|Unfit
    {
        if (! is_string($value) || preg_match(self::PATTERN, $value, $part, PREG_UNMATCHED_AS_NULL) !== 1) {
            return new Unfit($value === '' ? 'an empty string where a day or time was expected' : 'not written as in ISO 8601, like 2031-03-02 or 2031-03-02T09:30:00Z');
        }
        $seconds = null;
        if (isset($part['h'])) {
            $seconds = (int) $part['h'] * 3600 + (int) ($part['i'] ?? 0) * 60 + (int) ($part['s'] ?? 0);
            if ($seconds > 86400 || $seconds === 86400 && trim($part['f'] ?? '', '0') !== '') {
                return new Unfit('no time of a day');
            }
        }
        $offset = isset($part['z']) ? 0 : (isset($part['sign']) ? ((int) $part['oh'] * 3600 + (int) ($part['oi'] ?? 0) * 60) * ($part['sign'] === '-' ? -1 : 1) : null);
        $year = (int) $part['y'];
        $number = $part['n'] ?? $part['nb'] ?? null;
        $week = $part['w'] ?? $part['wb'] ?? null;
        if ($number !== null) {
            $leap = $year % 4 === 0 && ($year % 100 !== 0 || $year % 400 === 0);
            if ((int) $number < 1 || (int) $number > ($leap ? 366 : 365)) {
                return new Unfit('no day of the calendar');
            }
            [$month, $day] = array_map(intval(...), explode('-', gmdate('n-j', (int) gmmktime(0, 0, 0, 1, (int) $number, $year))));
        } elseif ($week !== null) {
            $found = (new \DateTimeImmutable('2000-01-01', new \DateTimeZone('UTC')))->setISODate($year, (int) $week, (int) ($part['wd'] ?? $part['wdb']));
            if ($found->format('o-W') !== sprintf('%04d-%02d', $year, (int) $week)) {
                return new Unfit('no week of that year');
            }
            [$year, $month, $day] = array_map(intval(...), explode('-', $found->format('Y-n-j')));
        } else {
            [$month, $day] = [(int) ($part['m'] ?? $part['mb']), (int) ($part['d'] ?? $part['db'])];
        }

        $moment = Moment::of($year, $month, $day, $seconds, $part['f'] ?? '', $offset);

        return $moment instanceof Moment && ($part['s'] ?? '') === '60' ? $moment->missing(Loss::LeapSecond) : $moment;
    }
}
