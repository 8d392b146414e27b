<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * A table is handed out in two presses, a key is given and tried in the documentation, seen in the log, withdrawn.
 */
final class OutletsTest extends BrowserTestCase
{
    public function test_a_table_is_handed_out_read_with_a_key_and_withdrawn(): void
    {
        $person = $this->builder();
        $person->go('/tables/loan_items')->press('Hand it out')->see('not published');
        $person->type('#condition', 'value gtt 100')->press('Publish')->see('was expected, and "gtt" stands there');
        self::assertSame('value gtt 100', $person->one('#condition')->getAttribute('value'));
        $person->type('#condition', 'value gt 100')->press('Publish')->see('loan-items can be read now.')->see('{"rows":[');
        $person->go('/outlets')->type('#name', 'Monday list')->press('Add')->see('Monday list is added');
        $person->press('Give a key')->see('It is not shown again.');
        $key = $person->one('#key code')->getText();
        self::assertMatchesRegularExpression('/^ds_\w{39}$/', $key);
        self::assertStringNotContainsString($key, $person->go((string) parse_url($person->driver->getCurrentURL(), PHP_URL_PATH))->text());
        $person->go('/outlets')->press('loan-items')->see('For whom');
        $person->driver->executeScript('[...document.querySelectorAll("#whom label")].find((one) => one.innerText.includes("Monday list")).querySelector("input").click()');
        $person->press('Save')->see('Readers get it like this from now on.');
        $person->press('Documentation')->type('#try-key', $key)->press('Ask')->see('→ 200,');
        self::assertStringContainsString('"next":', $person->one('#tried pre')->getText());
        $person->type('#try-filter', 'nothing eq 1')->press('Ask')->see('There is no column');
        $person->press('loan-items')->see('Monday list')->see('There is no column "nothing"');
        $person->go('/outlets')->press('Monday list')->press('Withdraw')->see('opens nothing any more');
        $person->go('/outlets')->press('loan-items')->press('Documentation')->type('#try-key', $key)->press('Ask')->see('→ 401,');
        $person->go('/outlets')->press('loan-items')->press('Turn off')->see('is off')->press('Delete')->see('is deleted');
        $person->press('Monday list')->press('Delete it, with its keys')->see('is deleted');
        self::assertSame([], array_values(array_filter($person->complaints(), static fn (string $one): bool => ! str_contains($one, 'status of 40'))));
    }
}
