<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * The whole way from one API to an exported file, as a person goes it.
 */
final class ThreadTest extends BrowserTestCase
{
    public function test_from_signing_in_to_the_exported_csv(): void
    {
        $person = $this->builder();
        $person->press('Add a source')->see('Whatever you have at hand')
            ->type('#start', $this->standins().'/loans-desk/v2')->type('#name', 'Loans, second desk')->press('Add the source')
            ->see('requires authentication');

        // The door stays shut, says why, and opens once the token is given.
        $person->tryIt()->see('The service requires authentication (401)');
        $person->press('Add a bearer token')->see('no value in Trial')
            ->type('#secret_value', 'ld-demo-71c0a9d4e25b3f2a')->click('#set-secret')->see('set by Ines Varga');
        self::assertStringNotContainsString('ld-demo-71c0a9d4e25b3f2a', (string) $person->driver->getPageSource());

        $person->press('Add endpoints')->see('what varies in curly braces')->type('#path', '/loans/{house}')->press('Add the endpoint')
            ->see('needs a value')
            ->type('#in-0-value', 'north-quay')->type('#path', '/loans/{house}')->see('GET /loans-desk/v2/loans/north-quay')
            ->press('Add an input')->one('#in-1-name');
        $person->type('#in-1-name', 'expand')->type('#in-1-value', 'items')->choose('#in-1-filled', 'fixed')->see('north-quay?expand=items');

        $person->tryIt()->see('use as the records')->see('••••••3f2a');
        $person->press('use as the records')->see('records in the first answer');
        $person->choose('#onward-style', 'cursor')->see('cursor at')->type('#onward-more', '$.has_more')->type('#onward-size', '20')->type('#onward-size_as', 'limit');
        $person->tryIt()->see('limit=20')->see('page 2 · 20')->see('20 records');

        $person->press('Propose columns')->see('keeps its zero')->see('nothing dropped');
        $person->type('#t0-table', 'quay_loans')->type('#t0-c0-name', 'loan')->keys("\u{E004}")->see('key loan');
        $person->type('#t1-table', 'quay_items')->keys("\u{E004}")->see('of quay_items');
        // What it is tried with is not what it is kept with: that is said on its own.
        $person->click('#keep')->see('Say here what the table is read with');
        $person->click('#keep-as-tried')->see('only house = north-quay');
        $person->click('#keep')->see('done', 30)->see('$.has_more is false');
        self::assertStringContainsString('quay_loans', $person->one('#happened-keep')->getText());

        $person->go('/tables/quay_loans')->see('fresh')->see('borrower_post_code');
        $person->press('Query it')->see('rows in');
        $person->driver->executeScript('window.sqlEditor.dispatch({changes: {from: 0, to: window.sqlEditor.state.doc.length, insert: arguments[0]}})', ["select q.ref, q.borrower_phone, count(*) as items\nfrom quay_loans q join quay_items i on i.loan_id = q.loan\ngroup by q.ref, q.borrower_phone\norder by q.ref"]);
        $person->tryIt()->see('items')->see('+470');
        preg_match('/(\d+) rows in/', $person->text(), $found);
        $person->click('#export-menu summary')->press('CSV, exact values');
        $file = '';
        $person->wait(function () use (&$file): bool {
            $file = ((array) glob($this->downloads.'/*.csv'))[0] ?? '';

            return $file !== '' && filesize((string) $file) > 0;
        }, 'the downloaded file');
        $lines = array_map(static fn (string $line): array => str_getcsv($line, escape: ''), array_filter(explode("\r\n", (string) file_get_contents((string) $file))));
        self::assertSame(['ref', 'borrower_phone', 'items'], $lines[0]);
        self::assertCount((int) ($found[1] ?? 0) + 1, $lines);
        self::assertStringStartsWith('+470', (string) $lines[1][1]);

        $person->go('/queries/new');
        $person->go('/')->see('quay_loans')->see('Loans, second desk');
        self::assertSame([], $person->complaints());
    }

    public function test_a_try_that_fails_says_where_and_why_and_loses_nothing(): void
    {
        $person = $this->builder();
        $person->go('/sources/loans-desk/endpoints/loans')->see('proven')->type('#path', '/lones')->tryIt()
            ->see('There is nothing at /loans-desk/v2/lones (404)')->see('No such loan or house.')->see('edits kept as draft');
        self::assertStringContainsString('bad', (string) $person->one('#node-ask')->getAttribute('class'));
        self::assertStringContainsString('no', (string) $person->one('#node-answer')->getAttribute('class'));
        $person->go('/sources/loans-desk/endpoints/loans');
        self::assertSame('/lones', $person->one('#path')->getAttribute('value'), 'the draft is still there after a reload');
        $person->type('#records', '$.data[')->type('#path', '/loans')->see('not saved')->see('In brackets comes a quoted name');
        self::assertSame('$.data[', $person->one('#records')->getAttribute('value'), 'what was typed stays');
        $person->type('#records', '$.data[*]')->tryIt()->see('version 1')->see('page 3 · 50');
        $person->go('/tables/loans')->see('of 1');
    }

    public function test_a_slow_change_is_overtaken_without_loss(): void
    {
        $person = $this->builder();
        $person->go('/sources/loans-desk/endpoints/loans')->tryIt()->see('tried just now')
            ->type('#records', '$.data[0]')->keys("\u{E004}")->see('1 record in the first answer');

        // The next change is slow to leave; a button pressed after it is not, and a field is typed into meanwhile.
        $person->driver->executeScript('const send = XMLHttpRequest.prototype.send; let slow = 1; window.lateAnswers = 0; XMLHttpRequest.prototype.send = function (...all) { if (slow === 1) this.addEventListener("loadend", () => window.lateAnswers++); slow-- > 0 ? setTimeout(() => send.apply(this, all), 900) : send.apply(this, all); };');
        $person->type('#records', '$.data[1]');
        $person->driver->executeScript('document.querySelector("#records").blur(); [...document.querySelectorAll("#happened-answer button")].find((one) => one.closest("li, summary, div").innerText.includes("data")).click(); const size = document.querySelector("#onward-size"); size.value = "37"; size.dispatchEvent(new Event("input", {bubbles: true}));');
        $person->see('50 records in the first answer')->wait(fn (): bool => $person->one('#onward-size')->getAttribute('value') === '37', 'the size in the new sheet');
        $person->wait(fn (): bool => (int) $person->driver->executeScript('return window.lateAnswers') === 1, 'the answer to the late change');
        $person->rest();
        self::assertStringContainsString('50 records in the first answer', $person->text());
        $person->go('/sources/loans-desk/endpoints/loans');
        self::assertSame(['$.data[*]', '37'], [$person->one('#records')->getAttribute('value'), $person->one('#onward-size')->getAttribute('value')]);
        $person->type('#onward-size', '50')->keys("\u{E004}")->see('version 1');
    }

    public function test_a_list_is_chosen_from_while_the_sheet_is_made_anew(): void
    {
        $person = $this->builder();
        $records = 'document.querySelector(\'[aria-label="use as the records: $.data[*]"]\').click();';
        $choose = 'const list = document.querySelector("#onward-style"); list.value = "cursor"; for (const told of ["input", "change"]) list.dispatchEvent(new Event(told, {bubbles: true}));';
        $moments = [
            'while it is on its way' => "$records $choose",
            'when it is on the page and htmx does not listen to it yet' => "document.addEventListener('htmx:afterSwap', (event) => { if (event.detail.target.id === 'sheet') { $choose } }, {once: true}); $records",
        ];
        foreach ($moments as $moment => $script) {
            $person->go('/sources/loans-desk/endpoints/loans')->tryIt()->see('tried just now')->choose('#onward-style', 'none')->rest()->type('#records', '$.data[0]')->keys("\u{E004}")->see('1 record in the first answer')->rest();
            self::assertSame([], $person->all('#onward-next'), $moment);
            $person->driver->executeScript($script);
            $person->see('cursor at')->rest();
            self::assertSame(['cursor', '$.data[*]'], [$person->one('#onward-style')->getAttribute('value'), $person->one('#records')->getAttribute('value')], $moment);
            $person->go('/sources/loans-desk/endpoints/loans')->see('cursor at');
        }
    }

    public function test_what_is_opened_and_pressed_the_moment_it_is_there_is_heard(): void
    {
        $person = $this->builder();
        $person->go('/sources/loans-desk/endpoints/loans')->tryIt()->see('tried just now')->rest();
        $person->driver->executeScript('let opened = false; new MutationObserver((all, watcher) => {
            const record = [...document.querySelectorAll("#happened-answer details")].find((one) => one.querySelector("summary").textContent.startsWith("items"));
            if (record && ! opened) { opened = true; record.open = true; }
            const leaf = [...(record?.querySelectorAll(".acts") ?? [])].find((one) => one.getAttribute("aria-label").endsWith("items[0]"));
            if (! leaf) return;
            watcher.disconnect();
            leaf.click();
        }).observe(document.body, {childList: true, subtree: true});
            [...document.querySelectorAll("#happened-answer details")].find((one) => one.querySelector("summary").textContent.startsWith("[2]")).open = true;');
        $person->see('$.data[2].items[0]')->see('Make it a column');
        self::assertSame([], $person->complaints());
    }

    public function test_the_keyboard_reaches_everything(): void
    {
        $person = $this->builder();
        $person->go('/tables');
        $person->keys('/')->type('#palette-text', 'loan_items')->keys("\u{E007}")->see('Columns and their types')->see('loan_items');
        $person->go('/sources/loans-desk/endpoints/loans');
        foreach (['Ask', 'Answer', 'Onward'] as $stratum) {
            $person->keys(']');
            self::assertSame($stratum, $person->driver->executeScript('return document.activeElement.getAttribute("aria-label")'));
        }
        $person->keys('[');
        self::assertSame('Answer', $person->driver->executeScript('return document.activeElement.getAttribute("aria-label")'));
        $person->keys('?')->see('to the stratum above, below');
    }

    public function test_everything_is_found_by_keyboard_from_every_screen(): void
    {
        $person = $this->builder();
        $person->go('/tables')->keys('/')->see('Your account');
        $person->type('#palette-text', 'shelf pos')->see('endpoint of Stores')->keys("\u{E007}")->see('Shelf positions');
        self::assertStringContainsString('/sources/stores/endpoints/positions', $person->driver->getCurrentURL());
        $person->keys('/')->see('All tries')->keys("\u{E00C}");
        $person->wait(static fn (): bool => (bool) $person->driver->executeScript('return ! document.getElementById("palette").open'), 'the list to close');
    }
}
