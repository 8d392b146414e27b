<?php

declare(strict_types=1);

namespace Tests\Core\Schedule;

use DeepSpring\Schedule\CronTimes;
use DeepSpring\Schedule\InvalidSchedule;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;
use Random\Engine\Mt19937;
use Random\Randomizer;

final class CronTimesTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string, string, list<string>}>
     */
    public static function times(): iterable
    {
        yield 'by the hour' => ['0 * * * *', 'UTC', '2031-01-15T06:00:00Z', ['2031-01-15T07:00', '2031-01-15T08:00']];
        yield 'never the moment itself' => ['*/15 * * * *', 'UTC', '2031-01-15T06:15:00Z', ['2031-01-15T06:30', '2031-01-15T06:45']];
        yield 'seconds count' => ['*/15 * * * *', 'UTC', '2031-01-15T06:14:59Z', ['2031-01-15T06:15', '2031-01-15T06:30']];
        yield 'by the wall of the zone' => ['30 6 * * *', 'Europe/Oslo', '2031-01-15T00:00:00Z', ['2031-01-15T05:30', '2031-01-16T05:30']];
        yield 'on working days' => ['0 7 * * 1-5', 'UTC', '2031-01-17T08:00:00Z', ['2031-01-20T07:00', '2031-01-21T07:00']];
        yield 'day of the month or of the week' => ['0 0 13 * 5', 'UTC', '2031-06-07T00:00:00Z', ['2031-06-13T00:00', '2031-06-20T00:00']];
        yield 'Sunday has two numbers' => ['0 0 * * 7', 'UTC', '2031-01-15T00:00:00Z', ['2031-01-19T00:00', '2031-01-26T00:00']];
        yield 'the last day of a month' => ['0 12 L * *', 'UTC', '2032-02-01T00:00:00Z', ['2032-02-29T12:00', '2032-03-31T12:00']];
        yield 'a leap day' => ['0 0 29 2 *', 'Europe/Oslo', '2031-01-01T00:00:00Z', ['2032-02-28T23:00', '2036-02-28T23:00']];
        yield 'months without a 31st' => ['0 0 31 * *', 'UTC', '2031-03-31T00:00:00Z', ['2031-05-31T00:00', '2031-07-31T00:00']];
        yield 'a name' => ['@daily', 'UTC', '2031-01-15T06:00:00Z', ['2031-01-16T00:00', '2031-01-17T00:00']];
        // Oslo, 30 March 2031: 02:00 to 03:00 does not exist. 26 October: 02:00 to 03:00 happens twice.
        yield 'skipped: at the change' => ['30 2 * * *', 'Europe/Oslo', '2031-03-29T12:00:00Z', ['2031-03-30T01:00', '2031-03-31T00:30']];
        yield 'several skipped: once' => ['0,20,40 2 * * *', 'Europe/Oslo', '2031-03-29T12:00:00Z', ['2031-03-30T01:00', '2031-03-31T00:00']];
        yield 'skipped, and due at the change anyway: once' => ['0 2,3 * * *', 'Europe/Oslo', '2031-03-29T12:00:00Z', ['2031-03-30T01:00', '2031-03-31T00:00']];
        yield 'doubled: the first time' => ['30 2 * * *', 'Europe/Oslo', '2031-10-25T12:00:00Z', ['2031-10-26T00:30', '2031-10-27T01:30']];
        yield 'doubled, asked between the two' => ['30 2 * * *', 'Europe/Oslo', '2031-10-26T00:45:00Z', ['2031-10-27T01:30', '2031-10-28T01:30']];
        yield 'doubled, asked within the second' => ['45 2 * * *', 'Europe/Oslo', '2031-10-26T01:10:00Z', ['2031-10-27T01:45', '2031-10-28T01:45']];
        yield 'by the half hour where an hour is skipped' => ['*/30 * * * *', 'Europe/Oslo', '2031-03-30T00:10:00Z', ['2031-03-30T00:30', '2031-03-30T01:00', '2031-03-30T01:30']];
        yield 'by the half hour where one is doubled' => ['*/30 * * * *', 'Europe/Oslo', '2031-10-26T00:10:00Z', ['2031-10-26T00:30', '2031-10-26T01:00', '2031-10-26T01:30', '2031-10-26T02:00']];
        // New York, 9 March and 2 November 2031; Lord Howe, by half an hour, 6 April and 5 October 2031.
        yield 'New York, skipped' => ['15 2 * * *', 'America/New_York', '2031-03-08T12:00:00Z', ['2031-03-09T07:00', '2031-03-10T06:15']];
        yield 'New York, doubled' => ['15 1 * * *', 'America/New_York', '2031-11-01T12:00:00Z', ['2031-11-02T05:15', '2031-11-03T06:15']];
        yield 'half an hour, doubled' => ['45 1 * * *', 'Australia/Lord_Howe', '2031-04-05T00:00:00Z', ['2031-04-05T14:45', '2031-04-06T15:15']];
        yield 'half an hour, skipped' => ['15 2 * * *', 'Australia/Lord_Howe', '2031-10-04T00:00:00Z', ['2031-10-04T15:30', '2031-10-05T15:15']];
    }

    /**
     * @param  list<string>  $expected
     */
    #[DataProvider('times')]
    public function test_the_next_times(string $expression, string $zone, string $after, array $expected): void
    {
        $times = (new CronTimes($expression, $zone))->next(new \DateTimeImmutable($after), count($expected));

        self::assertSame($expected, array_map(static fn (\DateTimeImmutable $time): string => $time->format('Y-m-d\TH:i'), $times));
        self::assertSame('UTC', $times[0]->getTimezone()->getName());
    }

    /**
     * Every minute of some weeks is looked at one by one, by rules that share no code with what is tested.
     */
    public function test_every_minute_around_a_change_of_the_clock_is_due_or_not(): void
    {
        $seed = (int) (getenv('SPRING_SEED') ?: random_int(1, 1_000_000));
        $chance = new Randomizer(new Mt19937($seed));
        $pick = static fn (array $all): string => (string) $all[$chance->getInt(0, count($all) - 1)];
        $found = 0;
        foreach (['Europe/Oslo' => ['2031-03-28', '2031-10-24'], 'America/New_York' => ['2031-03-07', '2031-10-31'], 'Australia/Lord_Howe' => ['2031-04-03', '2031-10-02'], 'Asia/Tokyo' => ['2031-03-28', '2031-10-24']] as $zone => $days) {
            for ($case = 0; $case < 25; $case++) {
                $minute = $pick(['*', '*/15', '*/7', '0', '30', '59', '0,20,40', (string) $chance->getInt(0, 59)]);
                $hour = $pick(['*', '*/2', '*/6', '1', '2', '3', '1,2', '1-3', '0-4/2', (string) $chance->getInt(0, 23)]);
                $weekday = $pick(['*', '*', '0', '6', '1-5', '0,1']);
                $from = (new \DateTimeImmutable($pick($days).'T00:00:00Z'))->modify('+'.$chance->getInt(0, 1440).' minutes');
                $until = $from->modify('+4 days');
                $times = (new CronTimes("$minute $hour * * $weekday", $zone))->between($from, $until, 6000);
                $expected = $this->dueMinutes([$minute, $hour, $weekday], $zone, $from->getTimestamp(), $until->getTimestamp());
                self::assertSame($expected, array_map(static fn (\DateTimeImmutable $time): int => $time->getTimestamp(), $times), "$minute $hour * * $weekday in $zone from {$from->format('c')}, seed $seed");
                $found += count($expected);
            }
        }
        self::assertGreaterThan(1000, $found);
    }

    /**
     * @param  array{string, string, string}  $fields  minute, hour, day of the week
     * @return list<int>
     */
    private function dueMinutes(array $fields, string $zone, int $from, int $until): array
    {
        $fits = function (int $wall) use ($fields): bool {
            [$minute, $hour, $weekday] = array_map(intval(...), explode(' ', gmdate('i G w', $wall)));

            return $this->holds($fields[0], $minute) && $this->holds($fields[1], $hour) && $this->holds($fields[2], $weekday);
        };
        $goesByHour = $fields[1][0] === '*';
        $due = [];
        $seen = [];
        $before = null;
        $zone = new \DateTimeZone($zone);
        for ($moment = $from - $from % 60 - 86_400; $moment <= $until; $moment += 60) {
            $wall = $moment + $zone->getOffset(new \DateTimeImmutable("@$moment"));
            $isDue = $fits($wall) && ($goesByHour || ! isset($seen[$wall]));
            for ($skipped = ($before ?? $wall - 60) + 60; ! $goesByHour && $skipped < $wall; $skipped += 60) {
                $isDue = $isDue || $fits($skipped);
            }
            if ($isDue && $moment > $from) {
                $due[] = $moment;
            }
            $seen[$wall] = true;
            $before = $wall;
        }

        return $due;
    }

    private function holds(string $field, int $value): bool
    {
        foreach (explode(',', $field) as $part) {
            preg_match('~^(\*|\d+)(?:-(\d+))?(?:/(\d+))?$~D', $part, $is, PREG_UNMATCHED_AS_NULL);
            $least = $is[1] === '*' ? 0 : (int) $is[1];
            $most = $is[1] === '*' ? 59 : (int) ($is[2] ?? $is[1]);
            if ($value >= $least && $value <= $most && ($value - $least) % (int) ($is[3] ?? 1) === 0) {
                return true;
            }
        }

        return false;
    }

    /**
     * @return iterable<string, array{string, string, string}>
     */
    public static function refused(): iterable
    {
        foreach (['', 'soon', '0 0 * *', '* * * * * *', '60 * * * *', '0 24 * * *', '0 0 0 * *', '0 0 32 * *', '0 0 * 13 *', '0 0 * * 8', '5-1 * * * *', '*/0 * * * *', '*/90 * * * *', '0 */25 * * *', '-1 * * * *', '@reboot', "0 0 * * *\n; x", '1/ * * * *', '/5 * * * *'] as $written) {
            yield "\"$written\"" => [$written, 'UTC', 'is no cron expression'];
        }
        yield 'a day that no month has' => ['0 0 31 2 *', 'UTC', 'never happens'];
        yield 'the 30th of February' => ['0 0 30 2 *', 'UTC', 'never happens'];
        yield 'a zone that is none' => ['0 0 * * *', 'Europe/Saltmarsh', 'is no time zone'];
        yield 'an offset for a zone' => ['0 0 * * *', '+01:00', 'is no time zone'];
        yield 'an abbreviation for a zone' => ['0 0 * * *', 'CEST', 'is no time zone'];
    }

    #[DataProvider('refused')]
    public function test_what_cannot_be_followed_is_refused_with_a_sentence(string $expression, string $zone, string $sentence): void
    {
        $this->expectException(InvalidSchedule::class);
        $this->expectExceptionMessage($sentence);
        new CronTimes($expression, $zone);
    }
}
