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

    public function test_only_what_changed_is_read_and_the_run_says_what_came_of_it(): void
    {
        $person = $this->builder();
        $person->go('/sources/stores/endpoints/positions')->choose('#refresh-mode', 'incremental')->see('by checked_at, sent as changed_since, 5 min earlier')->see('Records that are deleted at the source are not seen')->rest();
        self::assertSame(['checked_at', 'PT5M'], [$person->one('#refresh-column')->getAttribute('value'), $person->one('#refresh-overlap')->getAttribute('value')]);
        $person->choose('#refresh-by', 'key')->see('by position_id, which grows, sent as after')->rest();
        $person->choose('#refresh-by', 'changed')->see('by checked_at, sent as changed_since')->rest();
        $person->type('#refresh-overlap', 'five minutes')->keys("\u{E004}")->see('is no duration: PT15M is 15 minutes');
        $person->type('#refresh-overlap', 'PT10M')->keys("\u{E004}")->see('sent as changed_since, 10 min earlier')->rest();
        $person->choose('#refresh-deleted', 'locked')->see('Records whose locked is true are taken out.')->rest()->choose('#refresh-deleted', '')->see('Records that are deleted at the source are not seen')->rest();
        $person->click('#keep')->rest()->see('640 rows kept', 60);

        // The service does not know the parameter, and the run says that it looks so.
        $person->go('/tables/positions')->see('Refresh all of it')->click('.acts .btn.go')->see('0 changed, 0 new, 0 gone of 640 rows', 60)->see('came again as they were, as if changed_since said nothing to the service');
        $person->go('/tables/positions')->press('Refresh all of it')->see('8 pages, 640 records', 60);
        $person->go('/sources/stores/endpoints/positions')->choose('#refresh-mode', 'whole')->rest();
        self::assertSame([], $person->all('#read-how'));
        $person->click('#keep')->rest()->see('640 rows kept', 60);
        self::assertSame([], $person->complaints());
    }
}
