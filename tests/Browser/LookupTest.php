<?php

declare(strict_types=1);

namespace Tests\Browser;

final class LookupTest extends BrowserTestCase
{
    public function test_rows_are_tried_then_all_of_them_asked_for_stopped_and_gone_on_with(): void
    {
        $person = $this->builder();
        $person->go('/sources/freight-tracker/endpoints/consignment')->click('#open-lookup')->see('For each row of')->see('different requests');
        $person->click('#try-rows')->see('5 rows: 4 asked', 30)->see('GET /freight-tracker/v3/consignments/')->see('at 8 at once');
        $person->click('#ask-all')->see('rows asked for', 30)->press('Stop after this page')->see('it can be run on from row', 60);
        $person->click('#run-on')->see('rows have nothing to ask with', 120)->see('failed and are among the rejects');
        $person->click('#failed-rows')->see('known already', 60)->see('that failed again', 60);
        $person->go('/tables/consignments')->see('The Chart Room');
        $person->go('/sources/freight-tracker/endpoints/consignment/lookup')->see('answers are known already');
        self::assertSame([], $person->complaints());
    }
}
