<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * axe-core on every main view, against WCAG 2.2 A and AA.
 */
final class AccessibilityTest extends BrowserTestCase
{
    public function test_axe_finds_nothing_on_the_main_views(): void
    {
        $axe = (string) file_get_contents(dirname(__DIR__, 2).'/node_modules/axe-core/axe.min.js');
        $faults = [];
        $this->person()->go('/sign-in');
        $this->check('/sign-in', $axe, $faults);
        $person = $this->builder();
        foreach ([...Views::BUILDER, ...Views::EMPTY] as $view) {
            $person->go($view);
            if ($view === '/queries/1') {
                $person->tryIt()->see('rows in');
            }
            $this->check($view, $axe, $faults);
        }
        $person->leave();
        $this->leave();
        $person = $this->administrator();
        foreach (Views::ADMINISTRATOR as $view) {
            $person->go($view);
            $this->check($view, $axe, $faults);
        }
        self::assertSame([], $faults);
    }

    /**
     * @param  list<string>  $faults
     */
    private function check(string $view, string $axe, array &$faults): void
    {
        $driver = $this->person()->driver;
        $driver->executeScript($axe);
        $driver->manage()->timeouts()->setScriptTimeout(30);
        $found = $driver->executeAsyncScript('const done = arguments[arguments.length - 1]; axe.run(document, {runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]}).then((r) => done(r.violations.map((v) => v.id + ": " + v.nodes.slice(0, 3).map((n) => n.target.join(" ") + " — " + n.failureSummary.split("\n")[1]).join(" | "))), (e) => done([String(e)]));');
        foreach ((array) $found as $one) {
            $faults[] = "$view $one";
        }
    }
}
