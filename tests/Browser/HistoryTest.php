<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * Earlier states: said on the sheet, kept by a refresh, compared on the page of the table.
 */
final class HistoryTest extends BrowserTestCase
{
    public function test_what_stays_is_chosen_kept_compared_and_given_up(): void
    {
        $person = $this->builder();
        $person->go('/tables/positions')->see('nothing stays of it after a refresh')->press('History')->see('Nothing stays of positions');
        $person->go('/sources/stores/endpoints/positions')->choose('#history-kind', 'snapshots')->see('as many as')->rest();
        $person->type('#history-snapshots', '2')->keys("\u{E004}")->rest()->press('Publish and refresh');
        $states = fn (): int => count($person->go('/tables/positions/history')->all('[aria-label="States"] tbody tr'));
        $person->wait(static fn (): bool => $states() === 1, 'the first state');
        $person->go('/tables/positions')->press('Refresh')->see('8 pages, 640 records');
        $person->wait(static fn (): bool => $states() === 2, 'the second state');
        $person->see('The two are the same')->see('positions__');
        $person->one('#from')->sendKeys("\u{E015}");
        $person->one('#compare button')->click();
        $person->see('The two are the same')->press('Query it')->see('positions__');
        $person->go('/tables/positions/history')->press('More')->press('Give it up')->see('are gone')->see('Nothing stays of positions');
        self::assertSame([], $person->complaints());
    }
}
