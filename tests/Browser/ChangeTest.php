<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;
use GuzzleHttp\Client;

/**
 * Records changed where they live: cells, a block, a look, sending, a conflict and a refusal, the journal, taking back; in
 * bulk; an action on some rows.
 */
final class ChangeTest extends BrowserTestCase
{
    private const GRID = '/tables/loans/change?sort=loan_id';

    private static function cell(int $loan, string $column): string
    {
        return "//tr[td[@data-column='loan_id' and normalize-space()='$loan']]/td[@data-column='$column']";
    }

    private function put(Person $person, int $loan, string $column, string $text): void
    {
        $person->all(self::cell($loan, $column), true)[0]->click();
        $person->keys(WebDriverKeys::F2)->keys(WebDriverKeys::CONTROL, 'a', WebDriverKeys::NULL)->keys($text)->keys(WebDriverKeys::ENTER);
        $person->wait(fn (): bool => str_contains($this->value($person, $loan, $column), $text) && str_contains((string) $person->all(self::cell($loan, $column), true)[0]->getAttribute('class'), 'changed'), "$loan $column is kept");
    }

    private function value(Person $person, int $loan, string $column): string
    {
        return (string) $person->all(self::cell($loan, $column), true)[0]->getAttribute('data-typed');
    }

    /**
     * Pastes as a browser would after Ctrl V.
     */
    private static function paste(Person $person, string $text): void
    {
        $person->driver->executeScript('const data = new DataTransfer(); data.setData("text/plain", arguments[0]); document.activeElement.dispatchEvent(new ClipboardEvent("paste", {clipboardData: data, bubbles: true, cancelable: true}));', [$text]);
    }

    /**
     * Somebody at the desk itself.
     *
     * @param  array<string, mixed>  $fields
     */
    private function atTheDesk(int $loan, array $fields): void
    {
        $client = new Client(['base_uri' => $this->standins()]);
        $token = json_decode((string) $client->post('/loans-desk/oauth/token', ['auth' => ['circle-desk', 'ld-secret-4f0c2a77b1e9d358'], 'form_params' => ['grant_type' => 'client_credentials', 'scope' => 'loans.read loans.write']])->getBody(), true)['access_token'];
        $client->patch("/loans-desk/v2/loans/$loan", ['headers' => ['Authorization' => "Bearer $token"], 'json' => $fields]);
    }

    public function test_cells_are_changed_looked_at_sent_mended_and_taken_back(): void
    {
        $person = $this->analyst();
        $person->go('/tables/loans')->press('Change rows')->see('Nothing is pending');
        $person->go(self::GRID)->rest();
        // A day later by keyboard, while the cell is open.
        $person->all(self::cell(7614, 'due'), true)[0]->click();
        $person->keys('2031-04-29', WebDriverKeys::ALT, WebDriverKeys::ARROW_UP, WebDriverKeys::NULL, WebDriverKeys::ENTER);
        $person->wait(fn (): bool => $this->value($person, 7614, 'due') === '2031-04-30', 'the next day is kept');
        $this->put($person, 7615, 'note', 'Light below 40 lux');
        $this->put($person, 7619, 'cover', '12500');
        // A step back and forth.
        $person->keys(WebDriverKeys::CONTROL, 'z', WebDriverKeys::NULL);
        $person->wait(fn (): bool => $this->value($person, 7619, 'cover') === '72982.82', 'the step is taken back');
        $person->keys(WebDriverKeys::CONTROL, 'y', WebDriverKeys::NULL);
        $person->wait(fn (): bool => $this->value($person, 7619, 'cover') === '12500', 'and taken again');
        // A block of two rows and two columns, one of which does not fit; nothing of it is lost.
        $person->all(self::cell(7617, 'due'), true)[0]->click();
        self::paste($person, "2031-07-01\tpasted\nsoon\tpasted, too\n");
        $person->wait(fn (): bool => $this->value($person, 7618, 'due') === 'soon' && $this->value($person, 7617, 'note') === 'pasted', 'the block is kept');
        $person->see('5 pending');
        // In another tab the same is pending.
        $person->go(self::GRID)->see('5 pending')->see('PATCH /loans-desk/v2/loans/7614')->see('{"due":"2031-04-30"}')->see('Not sent until that is put right');
        self::assertStringNotContainsString('ld-secret', $person->text());
        $this->atTheDesk(7614, ['due' => '2031-09-09']);
        $person->click('#send')->see('2 done, 1 refused, 1 changed meanwhile by somebody else. 1 change does not fit, and was not sent.');
        $person->see('Changed meanwhile.')->see('2031-09-09')->see('The loan is closed and cannot be changed. (409)');
        $person->press('Keep mine, and send it');
        $person->rest();
        $this->put($person, 7618, 'due', '2031-07-02');
        $person->click('#send')->see('2 done.')->see('not yet read again');
        self::assertSame('2031-04-30', $this->value($person, 7614, 'due'));
        $person->go('/journal?table=loans&record=7615')->see('Light below 40 lux')->see('Tomas');
        $person->click('main table a')->see('What was asked')->see('PATCH /loans-desk/v2/loans/7615')->press('Take it back')->see('The opposite change is pending');
        $person->click('#send')->see('1 done.');
        $person->go('/journal?table=loans&record=7615')->see('taking back');
        self::assertSame([], $person->complaints());
    }

    public function test_a_query_changes_in_bulk_is_stopped_and_gone_on_with(): void
    {
        $person = $this->analyst();
        $person->go('/tables/loans/change')->press('In bulk')->click('[name=from][value=query]')->type('#sql', 'select loan_id from loans where status = \'open\' order by loan_id limit 120');
        $person->choose('#set-0', 'note')->type('#text-0', '=concat("seen ", text(loan_id))')->press('Dry run')->see('120 rows would be changed');
        $person->press('Make 120 changes pending')->see('not sent')->press('Send three for real')->see('3 done. Stopped after the first 3');
        (new Client)->put($this->standins().'/loans-desk/_faults', ['json' => ['writes' => ['slow' => 1]]]);
        $person->press('Send the other 117')->press('Stop')->see('Stopped by hand');
        (new Client)->put($this->standins().'/loans-desk/_faults', ['json' => new \stdClass]);
        $person->click('form button[value=all]')->see('120 done', 60);
        self::assertSame([], $person->complaints());
    }

    public function test_an_action_is_called_on_five_rows(): void
    {
        $person = $this->builder();
        $person->go(self::GRID.'&q=packed')->rest();
        foreach (array_slice($person->all('[data-pick]'), 1, 5) as $box) {
            $box->click();
        }
        $person->see('5 selected')->press('Close the loan')->see('calls Close the loan')->see('POST /loans-desk/v2/loans/')->click('#send')->see('5 done.');
        $person->go('/journal?q=called&table=loans')->see('No entry matches');
        $person->go('/journal?table=loans')->see('called');
        self::assertSame([], $person->complaints());
    }
}
