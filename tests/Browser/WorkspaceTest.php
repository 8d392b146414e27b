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
        // Who scrolls to the end of the first rows gets the rest.
        $person->wait(static fn (): bool => (int) $person->one('.grid-box')->getAttribute('aria-rowcount') > 4000, 'all rows');
        $last = (int) $person->one('.grid-box')->getAttribute('aria-rowcount');
        $person->driver->executeScript('document.querySelector(".grid-box").scrollTop = 24 * 5000');
        $person->wait(static fn (): bool => (bool) $person->driver->executeScript('return [...document.querySelectorAll(".grid-row")].some((row) => Number(row.getAttribute("aria-rowindex")) === arguments[0] && row.innerText.length > 5)', [$last]), 'the last row of all');
        $person->type('.grid-bar input', 'KB-7613')->see('rows have it');
        $person->wait(static fn (): bool => (int) $person->one('.grid-box')->getAttribute('aria-rowcount') < 20 && str_contains($person->one('.grid-box')->getText(), 'KB-7613'), 'rows that have it');

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
        // What was typed before going away is undone after coming back.
        $person->driver->executeScript('window.sqlEditor.focus()');
        $person->driver->getKeyboard()->sendKeys([WebDriverKeys::CONTROL, 'z']);
        $person->wait(fn (): bool => $this->written($person) === '', 'the text before');
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

    public function test_a_statement_is_built_by_picking_and_stays_in_step_with_the_text(): void
    {
        $person = $this->analyst();
        $this->editor($person->go('/queries/new'));
        $person->click('#building summary')->see('Begin with');
        $this->pick($person, 'Begin with', 'loans', "select *\nfrom loans\nlimit 100");
        $person->press('Count rows');
        $this->says($person, "select count(*) as n\nfrom loans\nlimit 100");
        $this->pick($person, 'Add a column', 'house', "select count(*) as n, house\nfrom loans\ngroup by house\nlimit 100");
        $person->see('One row for each house.');
        $person->choose('[aria-label="Column of a condition"]', 'status')->choose('[aria-label="How it is compared"]', '<>')->type('[aria-label="Value of a condition"]', 'closed');
        $person->keys(WebDriverKeys::ENTER);
        $this->says($person, "select count(*) as n, house\nfrom loans\nwhere status <> 'closed'\ngroup by house\nlimit 100");
        $this->pick($person, 'Order by', 'n', "select count(*) as n, house\nfrom loans\nwhere status <> 'closed'\ngroup by house\norder by n\nlimit 100");
        $person->press('lowest first');
        $this->says($person, "select count(*) as n, house\nfrom loans\nwhere status <> 'closed'\ngroup by house\norder by n desc\nlimit 100");
        $person->tryIt()->see('24 rows');
        // A step is undone like a word.
        $person->driver->executeScript('window.sqlEditor.focus()');
        $person->driver->getKeyboard()->sendKeys([WebDriverKeys::CONTROL, 'z']);
        $this->says($person, "select count(*) as n, house\nfrom loans\nwhere status <> 'closed'\ngroup by house\norder by n\nlimit 100");
        $person->see('lowest first');
        // What cannot be shown is said, and left alone.
        $this->write($person, 'select 1 union select 2');
        $person->driver->getKeyboard()->sendKeys(' ');
        $person->see('Several SELECTs are put together with "union"');
        $this->says($person, 'select 1 union select 2 ');
        self::assertSame([], $person->complaints());
        $person->see('Kept as a draft.')->go('/queries')->press('throw away')->see('The draft is gone.');
    }

    public function test_a_parameter_is_asked_for_the_answer_charted_by_week_and_an_empty_one_explained(): void
    {
        $person = $this->analyst();
        $this->write($this->editor($person->go('/queries/new')), "select date_format(packed_at, '%x-W%v') as week, count(*) as n\nfrom loans\nwhere house = :house\ngroup by week\norder by week");
        // The row for a parameter comes a moment after it was typed.
        $person->driver->getKeyboard()->sendKeys(' ');
        $person->see('Parameter', 10)->type('[aria-label="Value of house"]', 'North Quay');
        $person->tryIt()->see('0 rows')->see('which is written in another way');
        $person->type('[aria-label="Value of house"]', 'north-quay')->tryIt();
        $person->wait(static fn (): bool => str_contains($person->driver->getCurrentURL(), 'p%5Bhouse%5D=north-quay') && $person->all('.grid-row') !== [], 'the rows');
        $person->press('Draw a chart')->see('bar: n by week');
        self::assertGreaterThan(5, (int) $person->driver->executeScript('return document.querySelectorAll("#chart svg rect").length'));
        // A value of many rows leads to these rows.
        $n = (int) $person->driver->executeScript('return Number(document.querySelectorAll(".grid-row")[0].querySelectorAll(".grid-cell")[1].innerText)');
        $person->driver->executeScript('document.querySelectorAll(".grid-row")[0].querySelectorAll(".grid-cell")[1].dispatchEvent(new MouseEvent("mousedown", {bubbles: true})); [...document.querySelectorAll(".grid-acts button")].find((one) => one.textContent === "where from").click()');
        $person->see(($n === 1 ? '1 row' : "$n rows").' behind');
        self::assertSame([], $person->complaints());
        $person->see('Kept as a draft.')->go('/queries')->press('throw away')->see('The draft is gone.');
    }

    public function test_a_statement_that_takes_long_is_stopped(): void
    {
        $person = $this->analyst();
        $this->write($this->editor($person->go('/queries/new')), 'select sleep(25) as slept');
        $begun = microtime(true);
        $this->stopped($person);
        // MariaDB ends a sleep with a value; of what reads rows it says that it was stopped.
        self::assertMatchesRegularExpression('/\b1 row\b|The statement was stopped\./', $person->one('#result')->getText());
        self::assertLessThan(12, microtime(true) - $begun);
        $this->write($person, 'select count(*) from loan_items a, loan_items b, loan_items c, loan_items d where a.value + b.value > c.value + d.value');
        $this->stopped($person);
        $person->see('The statement was stopped.', 10);
        self::assertSame([], $person->complaints());
        $person->see('Kept as a draft.')->go('/queries')->press('throw away')->see('The draft is gone.');
    }

    private function stopped(Person $person): void
    {
        $stop = $person->one('#stop');
        $person->driver->executeScript('document.querySelector("[data-go]").click()');
        $person->wait(static fn (): bool => $stop->isDisplayed(), 'the button that stops it', 10);
        $stop->click();
        $person->wait(static fn (): bool => ! $stop->isDisplayed(), 'the end of the statement', 10);
    }

    private function pick(Person $person, string $label, string $value, string $becomes): void
    {
        $person->choose($label === 'Begin with' ? '#build-table' : "[aria-label=\"$label\"]", $value);
        $this->says($person, $becomes);
    }

    private function says(Person $person, string $sql): void
    {
        $person->wait(fn (): bool => $this->written($person) === $sql, $sql.' instead of '.$this->written($person));
        $person->rest();
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
        // JSON opens part by part, every digit as it is written.
        $person->wait(static fn (): bool => (bool) $person->driver->executeScript('document.querySelectorAll(".json-tree details").forEach((one) => { one.open = true; }); return document.querySelector(".json-tree").textContent === "1 membersx: 2 elements0: 11: 2"'), 'the tree');
        $person->type('.grid-bar input', '00731')->see('1 of 3');
        self::assertSame('731', $texts()[0][0]);
        $person->driver->executeScript('[...document.querySelectorAll(".grid-acts button")].find((one) => one.textContent === "where from").click()');
        $person->see('Where a value comes from is known for one plain SELECT.');
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
