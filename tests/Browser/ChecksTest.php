<?php

declare(strict_types=1);

namespace Tests\Browser;

final class ChecksTest extends BrowserTestCase
{
    public function test_a_check_is_proposed_broken_and_mended(): void
    {
        $person = $this->builder();
        $person->go('/sources/stores/endpoints/positions')->see('Checked: less than half of its rows lost')->click('#open-checks')->see('No rule yet')->see('Proposed from the rows that are there', 30);
        $person->click('#tried button')->see('Kept in the draft')->see('Holds for all 640 rows', 30);
        $person->choose('#add-kind', 'rows')->click('#add-check')->see('Number of rows');
        $person->type('#check-1-at_least', 'many')->press('Keep in the draft')->see('Must be a whole number', 10)->rest();
        self::assertSame('many', $person->one('#check-1-at_least')->getAttribute('value'), 'what was typed stays');
        $person->type('#check-1-at_least', '1000')->press('Keep in the draft')->see('positions would have 640 rows; at least', 30)->see('broken');
        $person->press('Publish')->rest();
        $person->go('/tables/positions')->click('.acts .btn.go')->see('positions would have 640 rows; at least', 60)->see('The tables are as they were')->see('Checks: 1 of 2 held');
        $person->click('#takes-any')->see('They were put in place all the same, as was asked.', 60);
        $person->go('/tables/positions')->see('Checks: 1 of 2 held in the last run')->see('held 0 of the last 2 times')->click('#checks a[href$="/checks"]')->see('Tried here on the 640 rows')->rest();
        $person->type('#check-1-at_least', '600')->press('Keep in the draft')->see('Kept in the draft')->press('Publish')->rest();
        $person->go('/tables/positions')->click('.acts .btn.go')->see('8 pages, 640 records', 60);
        $person->go('/tables/positions')->see('Checks: 2 of 2 held in the last run');
        self::assertSame([], $person->complaints());
        // As it was, for others.
        $person->go('/sources/stores/endpoints/positions/checks')->rest()->press('Remove')->see('Kept in the draft')->rest()->press('Remove')->see('No rule yet')->press('Publish')->rest();
    }
}
