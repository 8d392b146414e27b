<?php

declare(strict_types=1);

namespace Tests\Core\Schedule;

use DeepSpring\Schedule\CronTimes;
use DeepSpring\Schedule\PlainTimes;
use DeepSpring\Schedule\RefreshTimes;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PlainTimesTest extends TestCase
{
    /**
     * @return iterable<string, array{string, string}>
     */
    public static function said(): iterable
    {
        yield 'every minute' => ['* * * * *', 'every minute'];
        yield 'minutes' => ['*/15 * * * *', 'every 15 minutes'];
        yield 'minutes of working hours' => ['*/10 7-18 * * 1-5', 'every 10 minutes from 07:00 to 18:50, Mon–Fri'];
        yield 'hours' => ['5 * * * *', 'hourly at :05'];
        yield 'hours of a day' => ['0 7-19 * * 1-6', 'hourly from 07:00 to 19:00, Mon–Sat'];
        yield 'every other hour' => ['0 */2 * * *', 'every 2 hours at :00'];
        yield 'every third hour of a part of the day' => ['30 8-18/3 * * *', 'every 3 hours from 08:30 to 17:30'];
        yield 'daily' => ['30 6 * * *', 'daily at 06:30'];
        yield 'weekends' => ['0 9 * * 6,0', 'Sat and Sun at 09:00'];
        yield 'Sundays' => ['0 3 * * 7', 'Sun at 03:00'];
        yield 'monthly' => ['0 4 1 * *', 'on day 1 of the month, at 04:00'];
        yield 'the last day' => ['0 4 L * *', 'on the last day of the month, at 04:00'];
    }

    #[DataProvider('said')]
    public function test_an_expression_is_said_in_words(string $cron, string $words): void
    {
        self::assertSame($words, PlainTimes::ofCron($cron)?->words());
    }

    /**
     * The last time that the words name is the last one of the day, and the first one the first.
     */
    #[DataProvider('said')]
    public function test_the_words_say_what_happens(string $cron, string $words): void
    {
        if (preg_match('/from (\d\d:\d\d) to (\d\d:\d\d)/', $words, $span) !== 1) {
            $this->addToAssertionCount(1);

            return;
        }
        // 15 January 2031 is a Wednesday.
        $times = (new CronTimes($cron))->between(new \DateTimeImmutable('2031-01-14T23:59:00Z'), new \DateTimeImmutable('2031-01-15T23:59:00Z'), 2000);
        self::assertSame([$span[1], $span[2]], [$times[0]->format('H:i'), end($times)->format('H:i')]);
    }

    public function test_whatever_a_form_can_hold_comes_back_from_its_expression(): void
    {
        $count = 0;
        foreach ([PlainTimes::MINUTES, PlainTimes::HOURS, PlainTimes::DAY, PlainTimes::MONTH] as $every) {
            foreach ($every === PlainTimes::MINUTES ? PlainTimes::MINUTE_STEPS : PlainTimes::HOUR_STEPS as $step) {
                foreach (array_map(strval(...), array_keys(PlainTimes::DAYS)) as $days) {
                    foreach ([['0', '23'], ['7', '19'], ['9', '9'], ['0', '5']] as [$hour, $until]) {
                        $form = ['step' => (string) $step, 'minute' => '5', 'hour' => $hour, 'until' => $until, 'days' => $days, 'date' => $step === 12 ? 'L' : (string) ($step + 20)];
                        $plain = PlainTimes::ofForm($every, $form);
                        $again = PlainTimes::ofCron($plain->cron());
                        self::assertNotNull($again, $plain->cron());
                        self::assertSame([$plain->cron(), $plain->words()], [$again->cron(), $again->words()]);
                        new CronTimes($plain->cron());
                        $count++;
                    }
                }
            }
        }
        self::assertSame(4 * 7 * 11 * 4, $count);
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function beyondWords(): iterable
    {
        foreach (['0 7,9 * * *', '*/45 * * * *', '0 0 13 * 5', '0 0 1 1 *', '0 0 * * 1#2', '0 0 15W * *', '5/10 * * * *', '0 7 * * MON', '*/15 8-18/2 * * *', 'x', '0 0 * * 2-4'] as $cron) {
            yield $cron => [$cron];
        }
    }

    #[DataProvider('beyondWords')]
    public function test_what_the_words_do_not_reach_stays_an_expression(string $cron): void
    {
        self::assertNull(PlainTimes::ofCron($cron));
    }

    public function test_what_does_not_fit_into_a_form_is_brought_into_bounds(): void
    {
        self::assertSame('*/15 * * * *', PlainTimes::ofForm('minutes', [])->cron());
        self::assertSame('* 5-5 * * *', PlainTimes::ofForm('minutes', ['step' => '7', 'hour' => '5', 'until' => '3', 'days' => 'never'])->cron());
        self::assertSame('30 6 * * *', PlainTimes::ofForm('day', ['at' => '06:30'])->cron());
        self::assertSame('59 23 * * *', PlainTimes::ofForm('day', ['at' => '77:88'])->cron());
        self::assertSame('0 0 31 * *', PlainTimes::ofForm('month', ['date' => '99'])->cron());
        self::assertSame('Months without a day 31 are left out.', PlainTimes::ofForm('month', ['date' => '99'])->note());
        self::assertSame('', PlainTimes::ofForm('month', ['date' => '28'])->note());
    }

    public function test_what_a_source_file_says(): void
    {
        $times = RefreshTimes::of(['every' => '0 7-19 * * 1-6', 'zone' => 'Europe/Oslo', 'after' => ['borrowers'], 'when_asked' => ['older_than' => 'PT2H', 'wait' => true]]);
        self::assertSame('hourly from 07:00 to 19:00, Mon–Sat, Europe/Oslo; after borrowers; when asked and older than PT2H', $times->words());
        self::assertTrue($times->isAutomatic() && $times->waits);
        self::assertTrue($times->isFor('production', 'production'));
        self::assertFalse($times->isFor('trial', 'production'));
        self::assertTrue(RefreshTimes::of(['in' => ['trial']])->isFor('trial', 'production'));
        self::assertSame('by cron "0 7,9 * * *", UTC', RefreshTimes::of(['every' => '0 7,9 * * *'])->words());
        foreach ([[], ['every' => 'manual'], ['mode' => 'whole']] as $refresh) {
            self::assertSame(['by hand', false], [RefreshTimes::of($refresh)->words(), RefreshTimes::of($refresh)->isAutomatic()]);
        }
    }

    public function test_rows_are_too_old_after_so_long(): void
    {
        $times = RefreshTimes::of(['when_asked' => ['older_than' => 'PT2H']]);
        $read = new \DateTimeImmutable('2031-01-15T06:00:00Z');
        self::assertFalse($times->isTooOld($read, $read->modify('+2 hours')));
        self::assertTrue($times->isTooOld($read, $read->modify('+2 hours 1 second')));
        self::assertFalse(RefreshTimes::of([])->isTooOld($read, $read->modify('+2 years')));
    }
}
