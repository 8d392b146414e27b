<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * A moment in words, relative to now, in a time zone: "7 days ago", "start of month", "start of month, 1 year
 * ago". Parts are followed from left to right. A day is a day of the calendar, so one with a changed clock
 * has 23 or 25 hours; hours and minutes are counted as such.
 */
final class RelativeMoment
{
    private const UNITS = ['minute', 'hour', 'day', 'week', 'month', 'quarter', 'year'];

    /** Those that are offered. */
    public const OFFERED = ['now', 'today', 'yesterday', '24 hours ago', '7 days ago', '30 days ago', 'start of week', 'start of month', 'start of month, 1 month ago', 'start of year', 'start of year, 1 year ago', 'today, 1 year ago'];

    /**
     * @return \DateTimeImmutable|null null for what says no moment
     */
    public static function of(string $words, \DateTimeImmutable $now, \DateTimeZone $zone): ?\DateTimeImmutable
    {
        $moment = $now->setTimezone($zone);
        foreach (explode(',', strtolower(trim($words))) as $part) {
            $next = self::step(trim($part), $moment);
            if ($next === null) {
                return null;
            }
            $moment = $next;
        }

        return $moment;
    }

    private static function step(string $part, \DateTimeImmutable $moment): ?\DateTimeImmutable
    {
        if (preg_match('/^(\d{1,5}) (minute|hour|day|week|month|quarter|year)s? (ago|from now)$/D', $part, $found) === 1) {
            return self::moved($moment, ($found[3] === 'ago' ? -1 : 1) * (int) $found[1], $found[2]);
        }
        if (preg_match('/^start of (?:this |the )?('.implode('|', self::UNITS).')$/D', $part, $found) === 1) {
            return self::start($moment, $found[1]);
        }

        return match ($part) {
            'now' => $moment,
            'today' => $moment->setTime(0, 0),
            'yesterday' => $moment->setTime(0, 0)->modify('-1 day'),
            'tomorrow' => $moment->setTime(0, 0)->modify('+1 day'),
            default => null,
        };
    }

    private static function moved(\DateTimeImmutable $moment, int $by, string $unit): \DateTimeImmutable
    {
        return match ($unit) {
            // Elapsed time, whatever clocks do meanwhile.
            'minute', 'hour' => $moment->setTimezone(new \DateTimeZone('UTC'))->modify("$by $unit")->setTimezone($moment->getTimezone()),
            'day', 'week' => $moment->modify("$by $unit"),
            'quarter' => self::months($moment, 3 * $by),
            'month' => self::months($moment, $by),
            default => self::months($moment, 12 * $by),
        };
    }

    /**
     * So many months further; where that month has no such day, its last one.
     */
    private static function months(\DateTimeImmutable $moment, int $by): \DateTimeImmutable
    {
        $month = 12 * (int) $moment->format('Y') + (int) $moment->format('n') - 1 + $by;
        [$year, $month] = [intdiv($month, 12), $month % 12 + 1];
        $last = (int) (new \DateTimeImmutable(sprintf('%04d-%02d-01', $year, $month)))->format('t');

        return $moment->setDate($year, $month, min((int) $moment->format('j'), $last));
    }

    private static function start(\DateTimeImmutable $moment, string $unit): \DateTimeImmutable
    {
        [$year, $month] = [(int) $moment->format('Y'), (int) $moment->format('n')];

        return match ($unit) {
            'minute' => $moment->setTime((int) $moment->format('G'), (int) $moment->format('i')),
            'hour' => $moment->setTime((int) $moment->format('G'), 0),
            'day' => $moment->setTime(0, 0),
            // ISO 8601: weeks begin on Monday.
            'week' => $moment->setTime(0, 0)->modify('-'.((int) $moment->format('N') - 1).' day'),
            'month' => $moment->setDate($year, $month, 1)->setTime(0, 0),
            'quarter' => $moment->setDate($year, 3 * intdiv($month - 1, 3) + 1, 1)->setTime(0, 0),
            default => $moment->setDate($year, 1, 1)->setTime(0, 0),
        };
    }
}
