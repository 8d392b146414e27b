<?php

declare(strict_types=1);

namespace DeepSpring\Schedule;

use Cron\CronExpression;

/**
 * The moments that a cron expression names, by the clock on the wall of a time zone.
 *
 * Five fields, as crontab(5) has them; where day of the month and day of the week are both restricted, either
 * fits. When the clock is put forward, a time of the day that is skipped happens once, at the moment of the
 * change; when it is put back, a time that occurs twice happens the first time only. An expression that goes by
 * the hour or by the minute ("*" or a step in the field of the hour) follows real time instead: nothing is made
 * up for the hour that is skipped, and the hour that occurs twice counts twice.
 */
final class CronTimes
{
    /** Names for what is said often, as crontab(5) knows them. */
    private const NAMES = ['@hourly' => '0 * * * *', '@daily' => '0 0 * * *', '@midnight' => '0 0 * * *', '@weekly' => '0 0 * * 0', '@monthly' => '0 0 1 * *', '@yearly' => '0 0 1 1 *', '@annually' => '0 0 1 1 *'];

    /** The largest number of each field. */
    private const LARGEST = [59, 23, 31, 12, 7];

    /** Changes of the clock that are looked across, which is more than any zone has in the years that can pass without a leap day. */
    private const CHANGES = 400;

    private const DAY = 86_400;

    public readonly string $expression;

    /** The days of it, at midnight. */
    private readonly CronExpression $days;

    /** @var list<int> seconds after midnight, ascending */
    private readonly array $timesOfDay;

    private readonly \DateTimeZone $zone;

    private readonly \DateTimeZone $utc;

    /** Whether it goes by real time where the clock is changed. */
    private readonly bool $isContinuous;

    /** @var array<int, bool> days that were looked at: midnight → whether it is one of them */
    private array $seen = [];

    /** @var array{int, int|null, int}|null span without a change of the clock: first moment, the change, offset */
    private ?array $span = null;

    /**
     * @throws InvalidSchedule
     */
    public function __construct(string $expression, string $zone = 'UTC')
    {
        $written = trim((string) preg_replace('/\s+/', ' ', $expression));
        $this->expression = self::NAMES[strtolower($written)] ?? $written;
        $fields = explode(' ', $this->expression);
        if (count($fields) !== 5 || ! self::isSound($fields) || ! CronExpression::isValidExpression($this->expression)) {
            throw InvalidSchedule::expression($expression);
        }
        // PHP also takes offsets and abbreviations, which know nothing of changes of the clock.
        if (! in_array($zone, \DateTimeZone::listIdentifiers(\DateTimeZone::ALL_WITH_BC), true)) {
            throw InvalidSchedule::zone($zone);
        }
        $this->days = new CronExpression("0 0 {$fields[2]} {$fields[3]} {$fields[4]}");
        $this->timesOfDay = self::timesOfDay($fields[0], $fields[1]);
        $this->zone = new \DateTimeZone($zone);
        $this->utc = new \DateTimeZone('UTC');
        $this->isContinuous = preg_match('~^\*(/|$)~', $fields[1]) === 1;
        $this->wallAfter((int) gmmktime(0, 0, 0, 1, 1, 2030) - 1);
    }

    /**
     * @return list<int> seconds after midnight, ascending
     */
    private static function timesOfDay(string $minutes, string $hours): array
    {
        $times = [];
        foreach (self::numbers($hours, 23) as $hour) {
            foreach (self::numbers($minutes, 59) as $minute) {
                $times[] = 3600 * $hour + 60 * $minute;
            }
        }

        return $times;
    }

    /**
     * @return list<int> ascending
     */
    private static function numbers(string $field, int $largest): array
    {
        $numbers = [];
        foreach (explode(',', $field) as $part) {
            preg_match('~^(\*|\d+)(?:-(\d+))?(?:/(\d+))?$~D', $part, $is, PREG_UNMATCHED_AS_NULL);
            $begin = $is[1] ?? '0';
            $first = (int) $begin;
            $last = (int) ($is[2] ?? ($begin === '*' || isset($is[3]) ? $largest : $first));
            for ($number = $first; $number <= $last; $number += (int) ($is[3] ?? 1)) {
                $numbers[] = $number;
            }
        }
        sort($numbers);

        return array_values(array_unique($numbers));
    }

    /**
     * What the library would take and count wrongly: ranges that run backwards, steps beyond their field.
     *
     * @param  list<string>  $fields
     */
    private static function isSound(array $fields): bool
    {
        foreach ($fields as $number => $field) {
            foreach (explode(',', $field) as $part) {
                [$range, $step] = explode('/', $part, 2) + [1 => '1'];
                $bounds = explode('-', $range);
                if (! ctype_digit($step) || (int) $step > self::LARGEST[$number] || count($bounds) === 2 && ctype_digit(implode($bounds)) && (int) $bounds[0] > (int) $bounds[1]) {
                    return false;
                }
            }
        }

        return true;
    }

    public function zone(): string
    {
        return $this->zone->getName();
    }

    /**
     * The first moment later than this one, in UTC, to the minute.
     */
    public function after(\DateTimeImmutable $moment): \DateTimeImmutable
    {
        $from = $moment->getTimestamp();
        // The wall clock as it was read last; within the hour that occurs twice it has been read further already.
        $wall = $from + $this->spanOf($from)[2];
        $wall = $this->isContinuous ? $wall : max($wall, $this->furthest($from));
        for ($left = self::CHANGES; $left > 0; $left--) {
            $next = $this->wallAfter($wall);
            [, $change, $offset] = $this->spanOf($from);
            if ($change === null || $next - $offset < $change) {
                return $this->at($next - $offset);
            }
            $new = $this->offset($change);
            if ($new > $offset && ! $this->isContinuous && $next < $change + $new) {
                return $this->at($change);
            }
            // On the other side of the change the wall shows this.
            $wall = ($this->isContinuous ? $change + $new : $change + max($new, $offset)) - 1;
            $from = $change;
        }

        throw InvalidSchedule::never($this->expression);
    }

    /**
     * @param  \DateTimeImmutable  $from  excluded
     * @param  \DateTimeImmutable  $until  included
     * @return list<\DateTimeImmutable> at most so many, in UTC
     */
    public function between(\DateTimeImmutable $from, \DateTimeImmutable $until, int $atMost): array
    {
        $times = [];
        while (count($times) < $atMost && ($from = $this->after($from)) <= $until) {
            $times[] = $from;
        }

        return $times;
    }

    /**
     * The next few moments, in UTC.
     *
     * @return list<\DateTimeImmutable>
     */
    public function next(\DateTimeImmutable $after, int $count): array
    {
        $times = [];
        for ($left = $count; $left > 0; $left--) {
            $times[] = $after = $this->after($after);
        }

        return $times;
    }

    /**
     * The furthest that the wall clock has shown by now: more than it shows within the hour that occurs twice.
     */
    private function furthest(int $moment): int
    {
        $furthest = PHP_INT_MIN;
        foreach ($this->zone->getTransitions($moment - 86_400, $moment) ?: [] as $number => $change) {
            if ($number > 0) {
                $furthest = max($furthest, $change['ts'] - 1 + $this->offset($change['ts'] - 1));
            }
        }

        return $furthest;
    }

    /**
     * @return array{int, int|null, int} as $span
     */
    private function spanOf(int $moment): array
    {
        if ($this->span === null || $moment < $this->span[0] || $this->span[1] !== null && $moment >= $this->span[1]) {
            $this->span = [$moment, $this->changeAfter($moment), $this->offset($moment)];
        }

        return $this->span;
    }

    private function changeAfter(int $moment): ?int
    {
        // The first entry is the beginning of the span itself.
        foreach ($this->zone->getTransitions($moment, $moment + 2 * 366 * 86_400) ?: [] as $number => $change) {
            if ($number > 0 && $change['ts'] > $moment) {
                return $change['ts'];
            }
        }

        return null;
    }

    private function offset(int $moment): int
    {
        return $this->zone->getOffset($this->at($moment));
    }

    private function at(int $timestamp): \DateTimeImmutable
    {
        return (new \DateTimeImmutable("@$timestamp"))->setTimezone($this->utc);
    }

    /**
     * The next time on a wall that knows no change of the clock.
     *
     * @param  int  $wall  what it shows, as if it were UTC
     *
     * @throws InvalidSchedule
     */
    private function wallAfter(int $wall): int
    {
        $midnight = $wall - (($wall % self::DAY) + self::DAY) % self::DAY;
        if ($this->isDay($midnight)) {
            foreach ($this->timesOfDay as $time) {
                if ($midnight + $time > $wall) {
                    return $midnight + $time;
                }
            }
        }
        try {
            return $this->days->getNextRunDate($this->at($midnight), 0, false, 'UTC')->getTimestamp() + $this->timesOfDay[0];
        } catch (\RuntimeException) {
            throw InvalidSchedule::never($this->expression);
        }
    }

    private function isDay(int $midnight): bool
    {
        return $this->seen[$midnight] ??= $this->days->isDue($this->at($midnight), 'UTC');
    }
}
