<?php

declare(strict_types=1);

namespace Tests\Browser;

use GuzzleHttp\Client;

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
        // Rows for programs are compressed for who sends a key, which no page of another can make a browser do.
        $client = new Client(['base_uri' => getenv('APP_URL')]);
        $packed = $client->get('/feeds/loan-items?top=1000', ['headers' => ['X-Api-Key' => $key, 'Accept-Encoding' => 'gzip'], 'decode_content' => false]);
        self::assertSame(['gzip', 'application/json'], [$packed->getHeaderLine('Content-Encoding'), $packed->getHeaderLine('Content-Type')]);
        self::assertNotNull(json_decode((string) gzdecode((string) $packed->getBody())));
        self::assertSame(200, $client->post('/odata/v1/$batch', ['headers' => ['X-Api-Key' => $key], 'json' => ['requests' => [['id' => '1', 'method' => 'GET', 'url' => 'loan_items/$count']]]])->getStatusCode());
        $person->type('#try-filter', 'nothing eq 1')->press('Ask')->see('There is no column');
        $person->press('loan-items')->see('Monday list')->see('There is no column "nothing"');
        $person->go('/outlets')->press('Monday list')->press('Withdraw')->see('opens nothing any more');
        $person->go('/outlets')->press('loan-items')->press('Documentation')->type('#try-key', $key)->press('Ask')->see('→ 401,');
        $person->go('/outlets')->press('loan-items')->press('Turn off')->see('is off')->press('Delete')->see('is deleted');
        $person->press('Monday list')->press('Delete it, with its keys')->see('is deleted');
        self::assertSame([], array_values(array_filter($person->complaints(), static fn (string $one): bool => ! str_contains($one, 'status of 40'))));
    }
}
