<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

use DeepSpring\Value\Unfit;

/**
 * As in mails and headers: RFC 5322 §3.3 (which follows RFC 2822), and the IMF-fixdate of RFC 9110
 * §5.6.7.
 */
final readonly class Mail implements MomentReader
{
    public const MONTHS = ['jan' => 1, 'feb' => 2, 'mar' => 3, 'apr' => 4, 'may' => 5, 'jun' => 6, 'jul' => 7, 'aug' => 8, 'sep' => 9, 'oct' => 10, 'nov' => 11, 'dec' => 12];

    /** Hours east of UTC (RFC 5322 §4.3). */
    private const ZONES = ['gmt' => 0, 'ut' => 0, 'utc' => 0, 'z' => 0, 'est' => -5, 'edt' => -4, 'cst' => -6, 'cdt' => -5, 'mst' => -7, 'mdt' => -6, 'pst' => -8, 'pdt' => -7];

    public const PATTERN = '/^(?:(?:mon|tue|wed|thu|fri|sat|sun), *)?(\d{1,2}) +(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec) +(\d{4}) +([01]\d|2[0-3]):([0-5]\d)(?::([0-5]\d|60))? +(?:([+-])(\d\d)([0-5]\d)|(gmt|utc?|z|[ecmp][sd]t))(?: *\([^()]*\))?$/iD';

    public function read(string|int|float|bool $value): Moment|Unfit
    {
        if (! is_string($value) || preg_match(self::PATTERN, $value, $part, PREG_UNMATCHED_AS_NULL) !== 1) {
            return new Unfit($value === '' ? 'an empty string where a time was expected' : 'not written like Sun, 02 Mar 2031 09:30:00 +0100');
        }
        $offset = isset($part[7]) ? ((int) $part[8] * 3600 + (int) $part[9] * 60) * ($part[7] === '-' ? -1 : 1) : self::ZONES[strtolower((string) $part[10])] * 3600;

        $moment = Moment::of((int) $part[3], self::MONTHS[strtolower((string) $part[2])], (int) $part[1], (int) $part[4] * 3600 + (int) $part[5] * 60 + (int) ($part[6] ?? 0), '', $offset);

        return $moment instanceof Moment && ($part[6] ?? '') === '60' ? $moment->missing(Loss::LeapSecond) : $moment;
    }
}
