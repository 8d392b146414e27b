<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverKeys;

/**
 * What records become, shaped by hand.
 */
final class ShapeTest extends BrowserTestCase
{
    public function test_a_table_is_shaped_by_keyboard_alone(): void
    {
        $person = $this->shaping();
        $focus = static fn (): string => (string) $person->driver->executeScript('return document.activeElement.id + " " + (document.activeElement.dataset.path ?? "")');
        $tab = static function (string $wanted) use ($person, $focus): void {
            $person->wait(static fn (): bool => $person->driver->executeScript('return document.querySelector("#shape[data-busy]") === null') === true, 'the step to be done');
            for ($left = 500; $left > 0 && ! str_contains($focus(), $wanted); $left--) {
                $person->keys(WebDriverKeys::TAB);
            }
            self::assertStringContainsString($wanted, $focus());
        };
        $tab('$.id');
        for ($left = 30; $left > 0 && ! str_ends_with($focus(), '$.borrower.contact.email'); $left--) {
            $person->keys(WebDriverKeys::ARROW_DOWN);
        }
        self::assertStringEndsWith('$.borrower.contact.email', $focus());
        $before = $this->columns($person);
        self::assertNotContains('email', array_map(static fn (string $name): string => (string) preg_replace('/^.*_/', '', $name), $before));
        $person->keys(WebDriverKeys::ENTER);
        $person->wait(fn (): bool => count($this->columns($person)) === count($before) + 1, 'one column more');
        self::assertStringEndsWith('$.borrower.contact.email', $focus(), 'the focus stays where it was');
        self::assertNotSame('', (string) $person->driver->executeScript('return document.querySelector(".seen-field[data-path=\'$.borrower.contact.email\']").dataset.uses'));
        self::assertGreaterThan(5, (int) $person->driver->executeScript('return document.querySelectorAll("#ribbons path").length'));
        // Folded with the arrow, its ribbons end at what it is folded into.
        $person->keys(WebDriverKeys::ARROW_LEFT);
        self::assertStringEndsWith('$.borrower.contact', $focus());
        $person->keys(WebDriverKeys::ARROW_LEFT);
        self::assertSame('false', $person->one('.seen-field[data-path="$.borrower.contact"]')->getAttribute('aria-expanded'));

        $tab('t0-c1-grip');
        [$first, $second, $third] = $this->columns($person);
        $person->keys(WebDriverKeys::ALT, WebDriverKeys::ARROW_DOWN, WebDriverKeys::NULL);
        $person->wait(fn (): bool => array_slice($this->columns($person), 0, 3) === [$first, $third, $second], 'the column one further down');
        self::assertStringStartsWith('t0-c2-grip', $focus());
        $person->keys(WebDriverKeys::TAB);
        $person->keys(WebDriverKeys::CONTROL, 'a', WebDriverKeys::NULL, 'reference', WebDriverKeys::TAB);
        $person->wait(fn (): bool => ($this->columns($person)[2] ?? '') === 'reference', 'the new name');
        $tab('undo');
        $person->keys(WebDriverKeys::ENTER);
        $person->wait(fn (): bool => ($this->columns($person)[2] ?? '') === $second, 'the old name');
        $tab('t0-c3-grip');
        $person->keys(WebDriverKeys::CONTROL, 'z', WebDriverKeys::NULL);
        $person->wait(fn (): bool => array_slice($this->columns($person), 0, 3) === [$first, $second, $third], 'the old order');
        $person->keys(WebDriverKeys::CONTROL, WebDriverKeys::SHIFT, 'z', WebDriverKeys::NULL);
        $person->wait(fn (): bool => array_slice($this->columns($person), 0, 3) === [$first, $third, $second], 'done again');
        $tab('t0-expression');
        $now = count($this->columns($person));
        $person->keys('round(fee * 1.25, 2)', WebDriverKeys::ENTER);
        $person->wait(fn (): bool => count($this->columns($person)) === $now + 1, 'a computed column');
        $tab('t0-expression');
        $person->keys('fe * 2', WebDriverKeys::ENTER);
        $person->see('"fee" was probably meant');
        self::assertSame('fe * 2', $person->one('#t0-expression')->getAttribute('value'), 'what was typed stays');
    }

    public function test_fields_and_columns_are_dragged(): void
    {
        $person = $this->shaping();
        $before = $this->columns($person);
        $drag = static function (string $from, string $to) use ($person): void {
            $person->driver->action()->dragAndDrop($person->driver->findElement(WebDriverBy::cssSelector($from)), $person->driver->findElement(WebDriverBy::cssSelector($to)))->perform();
        };
        $drag('.seen-field[data-path="$.borrower.contact.email"] .n', '#t0-c1 .eg');
        $person->wait(fn (): bool => count($this->columns($person)) === count($before) + 1, 'one column more');
        $at = array_search('borrower_contact_email', $this->columns($person), true);
        self::assertContains($at, [1, 2], 'where it was let go');
        $first = $this->columns($person)[0];
        $drag('#t0-c0 .grip', '#t0-c3 .eg');
        $person->wait(fn (): bool => array_search($first, $this->columns($person), true) >= 2, 'the first column further down');
    }

    public function test_rows_show_their_record_filters_find_and_steps_say_what_they_do(): void
    {
        $person = $this->shaping();
        $person->type('#field-filter', 'post_code');
        $person->wait(fn (): bool => (int) $person->driver->executeScript('return [...document.querySelectorAll(".seen-field")].filter((one) => one.offsetParent !== null).length') === 2, 'the field and what it is in');
        $person->type('#field-filter', 'nothing like it')->see('No field is like that');
        $person->type('#field-filter', '');
        $person->choose('#t0-c3-type', 'integer')->see('rejects: 0 →')->see('do not fit');
        $person->click('#undo')->see('→ 0');
        $person->click('tr[data-record="1"]')->see('Record 2')->see('"borrower"');
        $person->type('#t0-where', "status == 'open'")->keys(WebDriverKeys::TAB)->see('left out by conditions: 0 →');
        $person->click('#undo')->see('→ 0');
        $person->press('All functions')->see('round(number, places)');
        $person->press('Back to the sheet')->see('Flatten');
        self::assertStringEndsWith('/endpoints/loans', $person->driver->getCurrentURL());
    }

    /**
     * What was shaped is a draft, which the tests of other screens do not expect.
     */
    protected function tearDown(): void
    {
        try {
            $person = $this->person()->go('/sources/loans-desk/versions');
            if (str_contains($person->text(), 'Discard the draft')) {
                $person->press('Discard the draft')->see('The draft is discarded');
            }
        } finally {
            parent::tearDown();
        }
    }

    private function shaping(): Person
    {
        $person = $this->builder();
        $person->go('/sources/loans-desk/endpoints/loans')->tryIt()->see('tried just now')->rest();

        return $person->go('/sources/loans-desk/endpoints/loans/shape')->see('everything fits');
    }

    /**
     * @return list<string>
     */
    private function columns(Person $person): array
    {
        return array_map(strval(...), (array) $person->driver->executeScript('return [...document.querySelectorAll("[data-drop-table=\'0\'] .column .name")].map((one) => one.value)'));
    }
}
