<?php

declare(strict_types=1);

namespace Tests\Browser;

/**
 * Nothing but tables of data and the map scrolls sideways, down to 320 CSS pixels (WCAG 1.4.10), and a field
 * stays wide enough to be read.
 */
final class ReflowTest extends BrowserTestCase
{
    private const WIDTHS = [320, 390, 1024, 1280];

    public function test_every_view_fits_into_every_width(): void
    {
        $faults = [];
        $this->person()->go('/sign-in');
        $this->measure('/sign-in', $faults);
        $person = $this->builder();
        foreach ([...Views::BUILDER, ...Views::EMPTY] as $view) {
            $person->go($view);
            $this->measure($view, $faults);
        }
        $person->leave();
        $this->leave();
        $person = $this->administrator();
        foreach (Views::ADMINISTRATOR as $view) {
            $person->go($view);
            $this->measure($view, $faults);
        }
        self::assertSame([], $faults);
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

    /**
     * @param  list<string>  $faults
     */
    private function measure(string $view, array &$faults): void
    {
        $driver = $this->person()->driver;
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
                $faults[] = "$view at $width: $found";
            }
        }
        $driver->executeCustomCommand('/session/:sessionId/goog/cdp/execute', 'POST', ['cmd' => 'Emulation.clearDeviceMetricsOverride', 'params' => new \stdClass]);
    }
}
