<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;

/**
 * An index as somebody takes it, by keyboard, and gives it up again.
 */
final class IndexTest extends BrowserTestCase
{
    public function test_one_is_refused_added_and_dropped(): void
    {
        $person = $this->builder();
        $person->go('/tables/condition_reports')->see('Columns and their types');
        // Opened by the keyboard, it is loaded.
        $person->driver->executeScript('document.querySelector("#indexes summary").focus()');
        $person->keys(WebDriverKeys::ENTER)->see('Another, over these columns in this order');
        $person->type('#index-columns', 'no such column')->keys(WebDriverKeys::ENTER)->see('condition_reports has no column "no such column". There are:');
        self::assertSame('no such column', $person->one('#index-columns')->getAttribute('value'), 'What was typed is still there.');
        self::assertSame('true', $person->one('#index-columns')->getAttribute('aria-invalid'));

        $columns = array_map(static fn ($cell): string => $cell->getText(), $person->all('table.rows thead th a'));
        $key = $person->one('#index-list td.m')->getText();
        $column = array_values(array_filter($columns, static fn (string $one): bool => ! str_contains($key, $one)))[0];
        $person->type('#index-columns', $column)->keys(WebDriverKeys::ENTER)->see("The index over $column is built while the table can be read");
        // The list looks again by itself until it is there.
        $person->see('none yet')->see('KB');
        self::assertStringNotContainsString('being built', $person->text());

        $person->go('/tables/condition_reports?indexes=1')->see('Drop')->press('Drop')->see("The index over $column is dropped.");
        $person->wait(fn (): bool => count($person->all('#index-list form[action*="indexes/"]')) === 0, 'no index is left');
        $person->leave();

        $this->leave();
        $person = $this->analyst()->go('/tables/condition_reports?indexes=1')->see('index over');
        self::assertSame([], $person->all('#index-list button'), 'Who only reads cannot change them.');
    }
}
