<?php

declare(strict_types=1);

namespace Tests\Browser;

use Symfony\Component\Process\Process;
use Tests\Lane;

/**
 * Every view, in its usual state, empty, failing and crowded: axe-core finds nothing against WCAG 2.2 A and
 * AA, nothing but tables of data and the map scrolls sideways down to 320 CSS pixels (WCAG 1.4.10), and a
 * field stays wide enough to be read.
 */
final class ViewsTest extends BrowserTestCase
{
    private const WIDTHS = [320, 390, 1024, 1280];

    private const RULES = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];

    /** @var list<string> */
    private array $faults = [];

    private bool $isCrowded = false;

    protected function tearDown(): void
    {
        parent::tearDown();
        if ($this->isCrowded) {
            $this->crowd('clear');
        }
    }

    public function test_the_views_of_a_builder(): void
    {
        $this->person()->go('/sign-in');
        $this->look('/sign-in');
        $person = $this->builder();
        foreach ([...Views::BUILDER, ...Views::EMPTY] as $view) {
            $person->go($view);
            if ($view === '/queries/1') {
                $person->tryIt()->see('rows in');
            }
            $this->look($view);
        }
        self::assertSame([], $this->faults);
    }

    public function test_the_views_of_an_administrator(): void
    {
        $person = $this->administrator();
        foreach (Views::ADMINISTRATOR as $view) {
            $person->go($view);
            $this->look($view);
        }
        self::assertSame([], $this->faults);
    }

    public function test_the_views_of_what_is_crowded_long_and_failing(): void
    {
        $this->isCrowded = true;
        $views = json_decode($made = $this->crowd('make'), true);
        self::assertIsArray($views, $made);
        self::assertGreaterThan(15, count($views));
        $this->person()->go('/sign-in')->type('#email', 'nobody@saltmarsh.example')->type('#password', 'wrong')->click('form button');
        $this->person()->see('do not belong together');
        $this->look('/sign-in, refused');
        $person = $this->builder();
        foreach ($views as $view) {
            self::assertStringNotContainsString('Something broke here', $person->go($view)->text(), $view);
            $this->look($view);
        }
        $person->go('/sources/crowd-1/endpoints/list-1')->tryIt()->see('refused');
        $this->look('an endpoint whose try failed');
        $person->go('/sources/new')->type('#start', 'curl "https://')->rest()->press('Add');
        $person->see('is opened at character 6 and never closed');
        $this->look('a source that cannot be read');
        $person->go('/queries/new')->wait(fn (): bool => (bool) $person->driver->executeScript('return window.sqlEditor !== undefined'), 'the editor');
        $person->driver->executeScript('window.sqlEditor.dispatch({changes: {from: 0, to: window.sqlEditor.state.doc.length, insert: "select nothing_of_this from loans"}}); window.sqlEditor.focus()');
        $person->tryIt()->see('nothing_of_this');
        $this->look('a statement that fails');
        self::assertSame([], $this->faults);
    }

    private function look(string $view): void
    {
        $driver = $this->person()->driver;
        $driver->executeScript((string) file_get_contents(dirname(__DIR__, 2).'/node_modules/axe-core/axe.min.js'));
        $driver->manage()->timeouts()->setScriptTimeout(60);
        $found = $driver->executeAsyncScript('const done = arguments[arguments.length - 1]; axe.run(document, {runOnly: arguments[0]}).then((r) => done(r.violations.map((v) => v.id + ": " + v.nodes.slice(0, 3).map((n) => n.target.join(" ") + " — " + n.failureSummary.split("\n")[1]).join(" | "))), (e) => done([String(e)]));', [self::RULES]);
        foreach ((array) $found as $one) {
            $this->faults[] = "$view $one";
        }
        foreach (self::WIDTHS as $width) {
            $driver->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', ['cmd' => 'Emulation.setDeviceMetricsOverride', 'params' => ['width' => $width, 'height' => 800, 'deviceScaleFactor' => 1, 'mobile' => false]]);
            $found = $driver->executeScript(<<<'JS'
                const wide = document.documentElement.clientWidth;
                const named = (one) => one.tagName.toLowerCase() + (one.id ? '#' + one.id : '') + (typeof one.className === 'string' && one.className ? '.' + one.className.split(' ').join('.') : '');
                // A field that nothing can be read in is of no use, even where it fits.
                const thin = [...document.body.querySelectorAll('input.f, select.f, textarea')].filter((one) => one.offsetParent !== null && one.getBoundingClientRect().width < 44);
                if (thin.length > 0) return 'too thin: ' + thin.slice(0, 4).map(named).join(', ');
                if (document.documentElement.scrollWidth <= wide) return null;
                const scrolls = (one) => one && one !== document.body && (/(auto|scroll|hidden)/.test(getComputedStyle(one).overflowX) || scrolls(one.parentElement));
                const over = [...document.body.querySelectorAll('*')].filter((one) => one.getBoundingClientRect().right > wide + 1 && ! scrolls(one.parentElement));
                return document.documentElement.scrollWidth + ' px: ' + over.slice(0, 4).map(named).join(', ');
                JS);
            if ($found !== null) {
                $this->faults[] = "$view at $width: $found";
            }
        }
        $driver->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', ['cmd' => 'Emulation.clearDeviceMetricsOverride', 'params' => new \stdClass]);
    }

    /**
     * In the application that is looked at, with files of the suite, since those of the application may
     * belong to another account.
     */
    private function crowd(string $what): string
    {
        $root = dirname(__DIR__, 2);
        $folder = Lane::folder().'/crowd';
        foreach (['log', 'keys', 'views', 'tmp', 'cache'] as $part) {
            @mkdir("$root/$folder/$part", 0700, true);
        }
        copy("$root/".Lane::folder().'/keys/secrets.key', "$root/$folder/keys/secrets.key");
        $process = new Process([PHP_BINARY, __DIR__.'/crowd.php', $what], $root, ['SPRING_VAR' => $folder, 'APP_ENV' => 'production', 'DB_SCHEMA' => 'deep_spring', 'CACHE_STORE' => 'array', 'QUEUE_CONNECTION' => 'database', 'LOG_CHANNEL' => 'file'] + getenv(), timeout: 120);
        $process->mustRun();

        return $process->getOutput();
    }
}
