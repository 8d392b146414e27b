<?php

declare(strict_types=1);

namespace Tests\Browser;

final class ScheduleTest extends BrowserTestCase
{
    public function test_a_table_is_refreshed_by_words_and_by_cron(): void
    {
        $person = $this->builder();
        $person->go('/sources/stores/endpoints/positions')->see('Refreshed: by hand');
        $person->choose('#refresh-choice', 'day')->see('daily at 00:00, UTC')->rest();
        $person->choose('#refresh-days', '1-5')->choose('#refresh-zone', 'Europe/Oslo')->rest()->see('Mon–Fri at 00:00, Europe/Oslo');
        self::assertMatchesRegularExpression('/next (?:Mon|Tue|Wed|Thu|Fri) \d+ \w+ 00:00, (?:Mon|Tue|Wed|Thu|Fri) /', $person->one('#read-when')->getText());
        // As cron it begins with what the words stood for.
        $person->choose('#refresh-choice', 'cron')->rest();
        self::assertSame('0 0 * * 1-5', $person->one('#refresh-cron')->getAttribute('value'));
        $person->type('#refresh-cron', 'at noon')->keys("\u{E004}")->see('"at noon" is no cron expression');
        self::assertStringContainsString('is no cron expression', $person->one('#faults-keep')->getText());
        $person->type('#refresh-cron', '0 4 29 2 *')->keys("\u{E004}")->see('by cron "0 4 29 2 *", Europe/Oslo')->see('29 Feb 04:00');
        $person->click('#keep')->rest()->see('640 rows kept', 60);

        $person->go('/schedule')->see('Shelf positions')->see('by cron "0 4 29 2 *"')->press('pause')->see('is not refreshed by itself any more')->see('paused');
        $person->press('resume')->see('is refreshed by itself again');
        $person->go('/schedule?span=week')->see('Shelf positions');
        $person->press('refresh')->see('Shelf positions')->see('done', 60);
        $person->go('/sources/stores/endpoints/positions')->choose('#refresh-choice', 'manual')->see('Refreshed: by hand')->rest();
        $person->click('#keep')->rest()->see('640 rows kept', 60);
        $person->go('/schedule')->see('Nothing is refreshed by itself');
        self::assertSame([], $person->complaints());
    }
}
