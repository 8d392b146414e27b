<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\WebDriverKeys;

/**
 * An analyst writes a join with completion, mends a mistake, keeps the answer, and loses nothing.
 */
final class WorkspaceTest extends BrowserTestCase
{
    private function editor(Person $person): Person
    {
        $person->wait(static fn (): bool => (bool) $person->driver->executeScript('return window.sqlEditor !== undefined'), 'the editor');

        return $person;
    }

    private function write(Person $person, string $sql): Person
    {
        $person->driver->executeScript('const view = window.sqlEditor; view.dispatch({changes: {from: 0, to: view.state.doc.length, insert: arguments[0]}, selection: {anchor: arguments[0].length}}); view.focus();', [$sql]);

        return $person;
    }

    private function written(Person $person): string
    {
        return (string) $person->driver->executeScript('return window.sqlEditor.state.doc.toString()');
    }

    public function test_a_join_is_completed_a_mistake_mended_and_the_answer_kept_as_a_table(): void
    {
        $person = $this->analyst();
        $this->editor($person->go('/queries/new'));
        $this->write($person, "select l.ref, l.borower, i.quantity\nfrom loans l\njoin ");
        $person->driver->getKeyboard()->sendKeys([WebDriverKeys::CONTROL, ' ']);
        $person->wait(static fn (): bool => str_contains((string) $person->driver->executeScript('return document.querySelector(".cm-tooltip-autocomplete")?.innerText ?? ""'), 'loan_items on li.loan_id = l.loan_id'), 'the join');
        // The editor takes no key as a choice in the first moment of a list.
        usleep(200_000);
        $person->driver->getKeyboard()->sendKeys(WebDriverKeys::ENTER);
        self::assertStringEndsWith('join loan_items li on li.loan_id = l.loan_id', $this->written($person));
        $this->write($person, str_replace('i.quantity', 'li.object', $this->written($person)));
        $person->tryIt()->see('There is no column "borower" in l. Did you mean borrower?');
        self::assertSame('l.borower', $person->one('.wrong')->getText());
        $person->press('Write l.borrower')->see('the first 1');
        self::assertStringContainsString('l.borrower', $this->written($person));

        // As many rows of the thousand are in the page as can be seen.
        self::assertLessThan(60, (int) $person->driver->executeScript('return document.querySelectorAll(".grid-row").length'));
        self::assertSame('1001', $person->one('.grid-box')->getAttribute('aria-rowcount'));
        $person->driver->executeScript('document.querySelector(".grid-box").scrollTop = 24 * 990');
        $person->wait(static fn (): bool => (bool) $person->driver->executeScript('return [...document.querySelectorAll(".grid-row")].some((row) => row.getAttribute("aria-rowindex") === "1001")'), 'the last row');

        $this->write($person, "select house, count(*) as loans, sum(cover) as cover\nfrom loans\ngroup by house");
        $person->tryIt()->see('24 rows')->click('#save-menu summary');
        $person->type('#name', 'Loans of each house')->type('#labels', 'loans')->click('#save');
        $person->see('"Loans of each house" is saved.')->see('version 1');
        $this->editor($person)->one('input[name=as][value=table]')->click();
        $person->type('#key', 'house')->press('Keep it')->see('24 rows, 3 columns, refreshed', 40);
        $this->write($this->editor($person->go('/queries/new')), 'select max(loans) as most from loans_of_each_house');
        $person->tryIt()->see('1 row')->see('Made from');
        $person->go('/tables/loans_of_each_house')->see('Queries › Loans of each house')->see('Open the query');
        $person->go('/')->see('loans_of_each_house');

        // What is kept of it goes, and then the query itself.
        $person->go('/queries')->press('Loans of each house')->see('Read it like a table')->press('Stop keeping it')->see('loans_of_each_house is gone. The query stays.');
        $person->click('#save-menu summary')->press('Delete the query')->see('"Loans of each house" is deleted.');
        self::assertSame([], $person->complaints());
    }

    public function test_what_is_written_is_there_again_after_going_away_and_two_tabs_do_not_write_over_each_other(): void
    {
        $person = $this->analyst();
        $this->write($this->editor($person->go('/queries/new')), 'select 1 as not_lost');
        $person->see('Kept as a draft.')->go('/tables')->see('kept in');
        $person->driver->navigate()->back();
        $this->editor($person);
        self::assertSame('select 1 as not_lost', $this->written($person));
        // At once, before the pause after which it is kept.
        $this->write($person, 'select 2 as not_lost');
        $person->wait(static fn (): bool => str_contains($person->go('/queries')->text(), 'select 2 as not_lost'), 'what was written last');

        $person->driver->executeScript('window.open("/queries/new?draft=" + arguments[0])', [$this->draft($person, 'select 2 as not_lost')]);
        $tabs = $person->driver->getWindowHandles();
        $person->go('/queries/new?draft='.$this->draft($person, 'select 2 as not_lost'));
        $this->write($this->editor($person), 'select 3 as first_tab');
        $person->see('Kept as a draft.');
        $person->driver->switchTo()->window($tabs[1]);
        $this->write($this->editor($person), 'select 4 as second_tab');
        $person->see('Kept as a draft.');
        $person->driver->close();
        $person->driver->switchTo()->window($tabs[0]);
        $person->go('/queries')->see('select 3 as first_tab')->see('select 4 as second_tab');
        foreach ([1, 2] as $ignored) {
            $person->press('throw away')->see('The draft is gone.');
        }
        self::assertSame([], $person->complaints());
    }

    private function draft(Person $person, string $sql): string
    {
        $person->go('/queries');

        return (string) $person->driver->executeScript('return new URL([...document.querySelectorAll("tr")].find((row) => row.innerText.includes(arguments[0])).querySelector("a").href).searchParams.get("draft")', [$sql]);
    }

    public function test_the_grid_sorts_finds_opens_and_copies_plain_values(): void
    {
        $person = $this->analyst();
        $sql = "select 1204880 as readings, 9007199315028339 as register_no, 'a\nb' as note, '{\"x\": [1, 2]}' as more, null as nothing union all select 9, 10, '<b>', '', '-' union all select 731, 2031, '00731', 'z', 'é'";
        $this->write($this->editor($person->go('/queries/new')), $sql);
        $person->tryIt()->see('3 rows')->wait(static fn (): bool => $person->driver->executeScript('return document.querySelectorAll(".grid-row").length') === 3, 'the rows');
        $texts = static fn (): array => (array) $person->driver->executeScript('return [...document.querySelectorAll(".grid-row")].map((row) => [...row.querySelectorAll(".grid-cell")].map((cell) => cell.textContent))');
        self::assertSame(['1204880', '9007199315028339', 'a ⏎ b', '{"x": [1, 2]}', '—'], $texts()[0]);
        self::assertSame(2, (int) $person->driver->executeScript('return document.querySelectorAll(".grid-row:first-child .gap").length'), 'Digits of an amount are grouped, those of a number that names something are not.');
        $person->click('.grid-name[data-place="0"]');
        self::assertSame(['9', '731', '1204880'], array_column($texts(), 0));
        self::assertSame('ascending', $person->one('.grid-name[data-place="0"]')->getAttribute('aria-sort'));
        $person->click('.grid-name[data-place="0"]');
        self::assertSame(['1204880', '731', '9'], array_column($texts(), 0));
        $copied = static fn (): string => (string) $person->driver->executeScript('const data = new DataTransfer(); document.querySelector(".grid-box").dispatchEvent(new ClipboardEvent("copy", {clipboardData: data, cancelable: true})); return data.getData("text/plain")');
        $person->driver->executeScript('document.querySelector(".grid-box").focus()');
        $person->keys(WebDriverKeys::HOME);
        $person->driver->getKeyboard()->sendKeys([WebDriverKeys::CONTROL, 'a']);
        self::assertSame("1204880\t9007199315028339\t\"a\nb\"\t\"{\"\"x\"\": [1, 2]}\"\t\n731\t2031\t00731\tz\té\n9\t10\t<b>\t\t-", $copied());
        $person->keys(WebDriverKeys::HOME)->keys(WebDriverKeys::ARROW_UP)->keys(WebDriverKeys::ARROW_UP)->keys(WebDriverKeys::ARROW_RIGHT)->keys(WebDriverKeys::ARROW_RIGHT)->keys(WebDriverKeys::ARROW_RIGHT)->keys(WebDriverKeys::ENTER);
        $person->see('more, row 1');
        self::assertSame("{\n  \"x\": [\n    1,\n    2\n  ]\n}", (string) $person->driver->executeScript('return document.querySelector(".grid-value").textContent'));
        $person->type('.grid-bar input', '00731')->see('1 of 3');
        self::assertSame('731', $texts()[0][0]);
        self::assertSame([], $person->complaints());
    }

    public function test_an_export_is_written_and_fetched_and_one_that_fails_says_so_in_its_place(): void
    {
        $person = $this->analyst();
        $this->write($this->editor($person->go('/queries/new')), "select ref, '=1+1' as note from loans limit 3");
        $person->click('#export-menu summary')->press('CSV, safe for spreadsheets')->see('3 rows as CSV')->see('3 texts got an apostrophe in front')->see('note in row 1');
        $person->press('XLSX')->see('3 rows as XLSX');
        $this->write($person, 'select nowhere from loans');
        $person->press('JSON')->see('There is no column "nowhere"');
        self::assertSame('select nowhere from loans', $this->written($person));
        self::assertSame([], $person->complaints());
    }
}
