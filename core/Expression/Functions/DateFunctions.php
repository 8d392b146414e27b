<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Functions;

use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Expression\ExactNumbers;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\Node\LiteralNode;
use DeepSpring\Expression\ValueKind;
use DeepSpring\Value\Moment\Moment;
use DeepSpring\Value\Moment\Readers;
use DeepSpring\Value\Moment\UnusablePattern;
use DeepSpring\Value\Unfit;

/**
 * Days and times, in UTC. `now` is the same for all records of a run.
 */
final class DateFunctions
{
    private const UNITS = ['year' => 'Y-01-01', 'month' => 'Y-m-01', 'week' => null, 'day' => 'Y-m-d'];

    /**
     * @return list<Definition>
     */
    public static function all(?\DateTimeImmutable $now): array
    {
        $group = 'Days and times';
        $now = $now?->setTimezone(new \DateTimeZone('UTC'));
        $clock = static fn (string $format): string => $now?->format($format) ?? throw CannotEvaluate::because('there is no run here whose beginning could be asked for');
        [$d, $t, $n] = [ValueKind::Date, ValueKind::Text, ValueKind::Number];

        return [
            new Definition($group, 'today()', [], $d, 'The day on which the run began.', ['today() == date(now())', 'true'], static fn (): string => $clock('Y-m-d')),
            new Definition($group, 'now()', [], ValueKind::DateTime, 'The moment at which the run began.', ['now() >= today()', 'true'], static fn (): string => $clock('Y-m-d H:i:s')),
            new Definition($group, 'date(value, pattern)', [ValueKind::Any, $t], $d, 'A day: of a time, or of a text in ISO 8601 or by a pattern.', ["date('02.03.2031', 'dd.MM.yyyy')", '2031-03-02'],
                static fn (mixed $value, ?string $pattern = null): string => is_string($value) && preg_match('/^(\d{4}-\d\d-\d\d) \d\d:/', $value, $part) === 1 && $pattern === null ? $part[1] : self::fit(self::read($value, $pattern ?? 'iso')->wholeDay()), least: 1, check: self::checkPattern(...)),
            new Definition($group, 'datetime(text, pattern)', [ValueKind::Any, $t], ValueKind::DateTime, 'A moment from a text in ISO 8601 or by a pattern.', ["datetime('2031-03-02T09:30:00+01:00')", '2031-03-02 08:30:00'], static fn (mixed $value, ?string $pattern = null): string => self::fit(self::read($value, $pattern ?? 'iso')->utc(new \DateTimeZone('UTC'))), least: 1, check: self::checkPattern(...)),
            new Definition($group, 'year(day)', [$d], $n, 'Its year.', ["year(date('2031-03-02'))", '2031'], static fn (mixed $day): int => (int) self::day($day)->format('Y')),
            new Definition($group, 'month(day)', [$d], $n, 'Its month, from 1.', ["month(date('2031-03-02'))", '3'], static fn (mixed $day): int => (int) self::day($day)->format('n')),
            new Definition($group, 'day(day)', [$d], $n, 'Its day of the month.', ["day(date('2031-03-02'))", '2'], static fn (mixed $day): int => (int) self::day($day)->format('j')),
            new Definition($group, 'hour(time)', [ValueKind::Any], $n, 'Its hour.', ["hour(datetime('2031-03-02T09:30:00Z'))", '9'], static fn (mixed $time): int => is_string($time) && preg_match('/(?:^|[ T])(\d\d):\d\d/', $time, $part) === 1 ? (int) $part[1] : throw CannotEvaluate::because('not a time')),
            new Definition($group, 'weekday(day)', [$d], $n, 'Its day of the week, Monday is 1 (ISO 8601).', ["weekday(date('2031-03-02'))", '7'], static fn (mixed $day): int => (int) self::day($day)->format('N')),
            new Definition($group, 'add_days(day, count)', [$d, $n], $d, 'So many days later, or earlier.', ["add_days(date('2031-02-28'), 1)", '2031-03-01'], static fn (mixed $day, mixed $count): string => self::moved($day, ExactNumbers::count($count), 'days')),
            new Definition($group, 'add_months(day, count)', [$d, $n], $d, 'So many months later; the last day of a month that is too short.', ["add_months(date('2031-01-31'), 1)", '2031-02-28'], static function (mixed $day, mixed $count): string {
                $from = self::day($day);
                $first = $from->modify('first day of this month');
                $there = new \DateTimeImmutable(self::moved($first->format('Y-m-d'), ExactNumbers::count($count), 'months'), new \DateTimeZone('UTC'));

                return $there->format('Y-m-').sprintf('%02d', min((int) $from->format('j'), (int) $there->format('t')));
            }),
            new Definition($group, 'days_between(from, to)', [$d, $d], $n, 'How many days from one to the other.', ["days_between(date('2031-03-02'), date('2031-03-09'))", '7'], static fn (mixed $from, mixed $to): int => intdiv(self::day($to)->getTimestamp() - self::day($from)->getTimestamp(), 86400)),
            new Definition($group, 'seconds_between(from, to)', [ValueKind::DateTime, ValueKind::DateTime], $n, 'How many seconds from one to the other.', ["seconds_between(datetime('2031-03-02T09:30:00Z'), datetime('2031-03-02T09:31:00Z'))", '60'], static fn (mixed $from, mixed $to): int => self::time($to)->getTimestamp() - self::time($from)->getTimestamp()),
            new Definition($group, 'start_of(unit, day)', [$t, $d], $d, 'The first day of its year, month or week.', ["start_of('month', date('2031-03-22'))", '2031-03-01'],
                static fn (string $unit, mixed $day): string => array_key_exists($unit, self::UNITS) ? (self::UNITS[$unit] === null ? self::day($day)->modify('monday this week')->format('Y-m-d') : self::day($day)->format(self::UNITS[$unit])) : throw CannotEvaluate::because("there is no unit $unit"),
                check: static function (array $nodes): void {
                    if ($nodes[0] instanceof LiteralNode && ! array_key_exists((string) $nodes[0]->value, self::UNITS)) {
                        throw InvalidExpression::unknown($nodes[0]->position(), 'unit', (string) $nodes[0]->value, array_keys(self::UNITS));
                    }
                }),
            new Definition($group, 'seconds(duration)', [$t], $n, 'The seconds of an ISO 8601 duration without months and years.', ["seconds('PT1H30M')", '5400'], static fn (string $text): int => self::seconds($text)),
            new Definition($group, 'in_zone(time, zone)', [ValueKind::DateTime, $t], ValueKind::DateTime, 'A moment as the clocks of a zone show it.', ["in_zone(datetime('2031-07-02T09:30:00Z'), 'Europe/Oslo')", '2031-07-02 11:30:00'],
                static function (mixed $time, string $zone): string {
                    try {
                        return self::time($time)->setTimezone(new \DateTimeZone($zone))->format('Y-m-d H:i:s');
                    } catch (\Exception) {
                        throw CannotEvaluate::because("there is no time zone $zone");
                    }
                }),
        ];
    }

    /**
     * @param  list<\DeepSpring\Expression\Node\ExpressionNode>  $nodes
     */
    private static function checkPattern(array $nodes, int $position): void
    {
        $pattern = $nodes[1] ?? null;
        if ($pattern instanceof LiteralNode && is_string($pattern->value)) {
            try {
                Readers::of($pattern->value);
            } catch (UnusablePattern $unusable) {
                throw InvalidExpression::at($pattern->position(), $unusable->getMessage());
            }
        }
    }

    /**
     * @param  string  $pattern  as `read_as` of a column
     */
    private static function read(mixed $value, string $pattern): Moment
    {
        $value = $value instanceof \Brick\Math\BigDecimal ? ExactNumbers::text($value) : $value;
        try {
            $moment = is_scalar($value) ? Readers::of($pattern)->read($value) : Unfit::structure($value);
        } catch (UnusablePattern $unusable) {
            // A pattern that stands in the expression was looked at before; this one came with the data.
            throw CannotEvaluate::because(lcfirst(rtrim($unusable->getMessage(), '.')));
        }

        return $moment instanceof Unfit ? throw CannotEvaluate::because($moment->reason) : $moment;
    }

    private static function fit(string|Unfit $fit): string
    {
        return $fit instanceof Unfit ? throw CannotEvaluate::because($fit->reason) : $fit;
    }

    private static function day(mixed $day): \DateTimeImmutable
    {
        return is_string($day) && preg_match('/^(\d{4})-(\d\d)-(\d\d)/', $day, $part) === 1 && checkdate((int) $part[2], (int) $part[3], (int) $part[1]) ? new \DateTimeImmutable($part[0], new \DateTimeZone('UTC')) : throw CannotEvaluate::because('not a day');
    }

    private static function time(mixed $time): \DateTimeImmutable
    {
        return is_string($time) && preg_match('/^(\d{4})-(\d\d)-(\d\d)(?:[ T](?:[01]\d|2[0-3]):[0-5]\d(?::[0-5]\d)?)?/', $time, $part) === 1 && checkdate((int) $part[2], (int) $part[3], (int) $part[1]) ? new \DateTimeImmutable($part[0], new \DateTimeZone('UTC')) : throw CannotEvaluate::because('not a time');
    }

    private static function moved(mixed $day, int $count, string $unit): string
    {
        if (abs($count) > 4_000_000) {
            throw CannotEvaluate::because('outside the years 1000 to 9999');
        }
        $there = self::day($day)->modify(sprintf('%+d %s', $count, $unit));
        if ((int) $there->format('Y') < 1000 || (int) $there->format('Y') > 9999) {
            throw CannotEvaluate::because('outside the years 1000 to 9999');
        }

        return $there->format('Y-m-d');
    }

    private static function seconds(string $text): int
    {
        if (preg_match('/^(-?)P(?=.)(?:(\d{1,6})W)?(?:(\d{1,6})D)?(?:T(?=.)(?:(\d{1,9})H)?(?:(\d{1,9})M)?(?:(\d{1,9})(?:\.\d+)?S)?)?$/D', $text, $part) !== 1) {
            throw CannotEvaluate::because('not a duration like PT1H30M, without months and years');
        }

        return ($part[1] === '-' ? -1 : 1) * ((int) ($part[2] ?? 0) * 604800 + (int) ($part[3] ?? 0) * 86400 + (int) ($part[4] ?? 0) * 3600 + (int) ($part[5] ?? 0) * 60 + (int) ($part[6] ?? 0));
    }
}
