<?php

declare(strict_types=1);

namespace DeepSpring\Value\Moment;

use DeepSpring\Value\Unfit;

/**
 * A pattern of the date field symbols of Unicode (UTS #35, part 4): `dd.MM.yyyy HH:mm`. Known are
 * y, M, d, E, H, h, m, s, S, a, X and Z; text stands between apostrophes.
 */
final readonly class Pattern implements MomentReader
{
    private const FIELDS = [
        'yyyy' => '(?<y>\d{4})', 'yy' => '(?<yy>\d\d)', 'MMMM' => '(?<name>[A-Za-z]{3,9})', 'MMM' => '(?<name>[A-Za-z]{3})\.?', 'MM' => '(?<m>\d\d)', 'M' => '(?<m>\d{1,2})',
        'dd' => '(?<d>\d\d)', 'd' => '(?<d>\d{1,2})', 'EEEE' => '[A-Za-z]{6,9}', 'EEE' => '[A-Za-z]{2,3}\.?', 'E' => '[A-Za-z]{2,9}\.?', 'HH' => '(?<h>[01]\d|2[0-3])', 'H' => '(?<h>1?\d|2[0-3])',
        'hh' => '(?<h>0[1-9]|1[0-2])', 'h' => '(?<h>[1-9]|1[0-2])', 'mm' => '(?<i>[0-5]\d)', 'm' => '(?<i>[0-5]?\d)', 'ss' => '(?<s>[0-5]\d|60)', 's' => '(?<s>[0-5]?\d)',
        'SSSSSS' => '(?<f>\d{1,9})', 'SSS' => '(?<f>\d{3})', 'SS' => '(?<f>\d\d)', 'S' => '(?<f>\d{1,9})', 'a' => '(?<a>[AaPp])\.?[Mm]\.?', 'XXX' => '(?:(?<z>Z)|(?<sign>[+-])(?<oh>\d\d):(?<oi>[0-5]\d))', 'XX' => '(?:(?<z>Z)|(?<sign>[+-])(?<oh>\d\d)(?<oi>[0-5]\d))', 'X' => '(?:(?<z>Z)|(?<sign>[+-])(?<oh>\d\d)(?<oi>[0-5]\d)?)', 'Z' => '(?<sign>[+-])(?<oh>\d\d)(?<oi>[0-5]\d)',
    ];

    /** Years of two digits from here on are of the century before. */
    private const PIVOT = 70;

    private string $regex;

    public bool $hasTime;

    public bool $hasDay;

    /**
     * @throws UnusablePattern
     */
    public function __construct(private string $pattern)
    {
        $regex = '';
        $seen = '';
        preg_match_all("/'((?:[^']|'')*)'|([A-Za-z])\\2*|[^A-Za-z']+|'/", $pattern, $tokens, PREG_SET_ORDER | PREG_UNMATCHED_AS_NULL);
        foreach ($tokens as $token) {
            $text = (string) $token[0];
            if (isset($token[2])) {
                $regex .= self::FIELDS[$text] ?? throw UnusablePattern::field($pattern, $text, array_map(strval(...), array_keys(self::FIELDS)));
                $seen .= $text[0];
            } elseif ($text === "'") {
                throw UnusablePattern::open($pattern);
            } else {
                $regex .= preg_quote(isset($token[1]) ? ($token[1] === '' ? "'" : strtr($token[1], ["''" => "'"])) : $text, '/');
            }
        }
        foreach (['d' => 'day', 'y' => 'year', 'M' => 'month'] as $letter => $word) {
            if (! str_contains($seen, $letter) && preg_match('/[dyM]/', $seen) === 1) {
                throw UnusablePattern::lacks($pattern, $word);
            }
        }
        if ($seen === '' || preg_match('/([yMdHhmsSaXZ]).*\1/', $seen) === 1) {
            throw UnusablePattern::twice($pattern);
        }
        $this->hasDay = str_contains($seen, 'd');
        $this->hasTime = preg_match('/[Hh]/', $seen) === 1;
        if (! $this->hasDay && ! $this->hasTime) {
            throw UnusablePattern::lacks($pattern, 'day');
        }
        $this->regex = "/^$regex$/uD";
    }

    public function read(string|int|float|bool $value): Moment|Unfit
    {
        $text = is_int($value) ? (string) $value : $value;
        if (! is_string($text) || preg_match($this->regex, $text, $part, PREG_UNMATCHED_AS_NULL) !== 1) {
            return new Unfit($text === '' ? 'an empty string where a day or time was expected' : "not written as {$this->pattern}");
        }
        $month = isset($part['name']) ? $this->month($part['name']) : (int) ($part['m'] ?? 1);
        $year = isset($part['yy']) ? (int) $part['yy'] + ((int) $part['yy'] >= self::PIVOT ? 1900 : 2000) : (int) ($part['y'] ?? 1970);
        $seconds = null;
        if ($this->hasTime) {
            $hour = (int) $part['h'];
            $hour = isset($part['a']) ? $hour % 12 + (strtolower($part['a']) === 'p' ? 12 : 0) : $hour;
            $seconds = $hour * 3600 + (int) ($part['i'] ?? 0) * 60 + (int) ($part['s'] ?? 0);
        }
        $offset = isset($part['z']) ? 0 : (isset($part['sign']) ? ((int) $part['oh'] * 3600 + (int) ($part['oi'] ?? 0) * 60) * ($part['sign'] === '-' ? -1 : 1) : null);

        $moment = Moment::of($year, $month, (int) ($part['d'] ?? 1), $seconds, $part['f'] ?? '', $offset);

        return $moment instanceof Moment && ($part['s'] ?? '') === '60' ? $moment->missing(Loss::LeapSecond) : $moment;
    }

    private function month(string $name): int
    {
        $month = Mail::MONTHS[strtolower(substr($name, 0, 3))] ?? 0;
        $long = ['', 'january', 'february', 'march', 'april', 'may', 'june', 'july', 'august', 'september', 'october', 'november', 'december'][$month];

        return strlen($name) === 3 || strtolower($name) === $long ? $month : 0;
    }
}
