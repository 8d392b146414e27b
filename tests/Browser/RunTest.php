<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;

/**
 * A run as somebody watches it.
 */
final class RunTest extends BrowserTestCase
{
    public function test_a_run_is_watched_stopped_and_run_on(): void
    {
        $person = $this->builder();
        $person->go('/sources/crate-loggers')->see('What the service itself says of its limits')->type('#per_minute', '150')->type('#at_once', '2')->keys(WebDriverKeys::TAB)->see('150 requests a minute, 2 at once');
        $person->go('/sources/crate-loggers/endpoints/readings')->see('Readings since a moment')->press('Publish and refresh')->see('reading')->press('The whole run')->see('so far');
        $first = $this->pages($person);
        $person->wait(fn (): bool => $this->pages($person) > $first + 1, 'more pages without a hand');
        self::assertStringContainsString('page', (string) $person->one('svg.ladder')->getAttribute('aria-label'));
        $person->see('probably left')->click('#stop-after')->see('Stopped by hand after page');
        $stopped = $this->pages($person);
        self::assertLessThan(25, $stopped);
        $person->see('The tables are as they were')->press('Continue from page '.($stopped + 1))->see('reading')->see('25 pages, 24', 60);
        self::assertSame(25, $this->pages($person));
        $person->see('Goes on with page '.($stopped + 1))->press('+ pages and waits')->see('Page 25: 320 records')->press('outcome');
        $person->wait(fn (): bool => ! str_contains($person->text(), 'Page 25: 320 records'), 'the outcome alone');

        $person->go('/runs?q=readings')->see('Crate loggers › Readings since a moment')->choose('#state', 'failed')->see('No run matches');
        $person->go('/tables/readings')->see('24')->see('CR-001');
    }

    public function test_the_rest_is_proposed_proven_and_a_wrong_parameter_is_named(): void
    {
        $person = $this->builder();
        $person->go('/sources/registrar/endpoints/venues')->see('Venues');
        $person->go('/sources/registrar/endpoints/objects')->see('930')->choose('#onward-style', 'none')->see('There seems to be more')->see('$.next holds an address');
        $person->press('Set it and ask for page 2')->see('Stopped after 2 pages, which is enough for a try: 80 of 930 records.');
        self::assertSame('$.next', $person->one('#onward-link')->getAttribute('value'));
        $person->choose('#onward-style', 'page');
        $person->one('#onward-send_as');
        $person->rest()->tryIt()->see('the API ignores "page"')->see('The response suggests "Next link in the response"');
        $person->press('Only set it');
        $person->one('#onward-link');
        $person->rest()->tryIt()->see('Stopped after 3 pages');
    }

    private function pages(Person $person): int
    {
        return (int) preg_replace('/\D/', '', (string) $person->driver->executeScript('return document.querySelector("#run-progress .figures dd")?.innerText ?? "0"'));
    }
}
