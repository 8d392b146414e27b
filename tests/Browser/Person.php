<?php

declare(strict_types=1);

namespace Tests\Browser;

use Facebook\WebDriver\Chrome\ChromeOptions;
use Facebook\WebDriver\Remote\DesiredCapabilities;
use Facebook\WebDriver\Remote\RemoteWebDriver;
use Facebook\WebDriver\WebDriverBy;
use Facebook\WebDriver\WebDriverDimension;
use Facebook\WebDriver\WebDriverElement;
use Facebook\WebDriver\WebDriverKeys;

/**
 * Somebody in front of a headless Chromium of 1280×800.
 */
final class Person
{
    /** Seconds after the last key in which a page may still wait before it asks. */
    private const PAUSE = 0.4;

    /** Seconds that something is waited for: long, since only a test that fails waits so long, and machines are busy. */
    private const PATIENCE = 45;

    private float $typedAt = 0;

    private function __construct(public readonly RemoteWebDriver $driver, private readonly string $address, private readonly string $profile)
    {
    }

    public static function arrive(string $driver, string $address, ?string $downloads = null): self
    {
        $profile = sys_get_temp_dir().'/spring-person-'.bin2hex(random_bytes(6));
        $options = new ChromeOptions;
        $options->addArguments(['--headless', '--no-sandbox', '--disable-gpu', '--disable-quic', '--no-first-run', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--hide-scrollbars', "--user-data-dir=$profile", '--window-size=1280,800']);
        if ($downloads !== null) {
            $options->setExperimentalOption('prefs', ['download.default_directory' => $downloads, 'download.prompt_for_download' => false]);
        }
        $capabilities = DesiredCapabilities::chrome();
        $capabilities->setCapability(ChromeOptions::CAPABILITY, $options);
        $capabilities->setCapability('goog:loggingPrefs', ['browser' => 'ALL']);
        $remote = RemoteWebDriver::create($driver, $capabilities, 20_000, 60_000);
        $remote->manage()->window()->setSize(new WebDriverDimension(1280, 800 + 0));
        $inner = $remote->executeScript('return [window.innerWidth, window.innerHeight]');
        $remote->manage()->window()->setSize(new WebDriverDimension(1280 + 1280 - $inner[0], 800 + 800 - $inner[1]));

        return new self($remote, $address, $profile);
    }

    public function signIn(string $mail, string $password): self
    {
        $this->go('/sign-in')->type('#email', $mail)->type('#password', $password)->click('form button');

        return $this->see('Working in');
    }

    public function go(string $path): self
    {
        $this->driver->get($this->address.$path);

        return $this;
    }

    public function click(string $css): self
    {
        $this->settle();
        // What is shown while something runs is replaced again and again.
        $this->wait(function () use ($css): bool {
            try {
                $this->one($css)->click();

                return true;
            } catch (\Facebook\WebDriver\Exception\ElementClickInterceptedException|\Facebook\WebDriver\Exception\ElementNotInteractableException) {
                return false;
            }
        }, "the element $css, to be pressed");

        return $this;
    }

    /**
     * A link or button by the words on it.
     */
    public function press(string $words): self
    {
        $quoted = "'".str_replace("'", '', $words)."'";
        $this->settle();
        $this->wait(function () use ($quoted): bool {
            foreach ([...$this->all("//*[self::a or self::button][contains(normalize-space(.), $quoted)]", true), ...$this->all("//summary[contains(normalize-space(.), $quoted)]", true)] as $element) {
                if ($element->isDisplayed() && $element->isEnabled()) {
                    $this->driver->executeScript('arguments[0].scrollIntoView({block: "center"})', [$element]);
                    $element->click();

                    return true;
                }
            }

            return false;
        }, "a link or button “{$words}”");

        return $this;
    }

    public function type(string $css, string $text): self
    {
        $this->wait(function () use ($css, $text): bool {
            $field = $this->all($css)[0] ?? null;
            if ($field === null) {
                return false;
            }
            $this->driver->executeScript('arguments[0].scrollIntoView({block: "center"})', [$field]);
            $field->click();
            $field->sendKeys([WebDriverKeys::CONTROL, 'a', WebDriverKeys::NULL, $text === '' ? WebDriverKeys::DELETE : $text]);
            $this->typedAt = microtime(true);

            return true;
        }, "the field $css");

        return $this;
    }

    /**
     * Pressed where the focus is. One that is taken out of the page in that moment heard nothing of it.
     */
    public function keys(string ...$keys): self
    {
        for ($left = 5; $left > 0; $left--) {
            try {
                $this->driver->getKeyboard()->sendKeys($keys);

                return $this;
            } catch (\Facebook\WebDriver\Exception\StaleElementReferenceException|\Facebook\WebDriver\Exception\ElementNotInteractableException) {
                usleep(60_000);
            }
        }

        throw new \RuntimeException('What has the focus is replaced again and again.');
    }

    public function tryIt(): self
    {
        return $this->keys(WebDriverKeys::CONTROL, WebDriverKeys::ENTER, WebDriverKeys::CONTROL);
    }

    public function choose(string $css, string $value): self
    {
        $this->driver->executeScript('const s = document.querySelector(arguments[0]); s.value = arguments[1]; for (const told of ["input", "change"]) s.dispatchEvent(new Event(told, {bubbles: true}));', [$css, $value]);

        return $this;
    }

    public function see(string $text, int $seconds = self::PATIENCE): self
    {
        $this->wait(fn (): bool => str_contains($this->text(), $text), "the text “{$text}”", $seconds);

        return $this;
    }

    public function text(): string
    {
        return (string) $this->driver->executeScript('return document.body.innerText');
    }

    public function one(string $css): WebDriverElement
    {
        $this->wait(fn (): bool => $this->all($css) !== [], "the element $css");

        return $this->all($css)[0];
    }

    /**
     * @return list<WebDriverElement>
     */
    public function all(string $selector, bool $xpath = false): array
    {
        return array_values($this->driver->findElements($xpath ? WebDriverBy::xpath($selector) : WebDriverBy::cssSelector($selector)));
    }

    /**
     * @param  \Closure(): bool  $holds
     */
    public function wait(\Closure $holds, string $what, int $seconds = self::PATIENCE): void
    {
        for ($until = microtime(true) + $seconds; microtime(true) < $until; usleep(60_000)) {
            try {
                if ($holds()) {
                    return;
                }
            } catch (\Facebook\WebDriver\Exception\StaleElementReferenceException|\Facebook\WebDriver\Exception\JavascriptErrorException) {
                continue;
            }
        }

        throw new \RuntimeException("Waited $seconds s in vain for $what. The page says: ".mb_strimwidth($this->text(), 0, 1500, '…'));
    }

    /**
     * As a person does: looks until what was typed has been answered, so that nothing moves under the pointer;
     * but not while something long is under way that can be stopped.
     */
    private function settle(): void
    {
        // The page waits a moment after the last key before it asks.
        usleep((int) max(0, 1_000_000 * ($this->typedAt + self::PAUSE - microtime(true))));
        $quiet = 0;
        for ($until = microtime(true) + 2; microtime(true) < $until; usleep(40_000)) {
            $quiet = $this->driver->executeScript('return document.querySelector("[data-stop]:not([hidden])") === null && document.querySelector(".htmx-request") !== null') ? 0 : $quiet + 1;
            if ($quiet === 2) {
                return;
            }
        }
    }

    /**
     * Until nothing is under way any more, and nothing has been for as long as the page waits before it sends.
     */
    public function rest(): self
    {
        $quiet = 0;
        $this->wait(function () use (&$quiet): bool {
            $rests = (bool) $this->driver->executeScript('return document.querySelector("[aria-busy], .htmx-request") === null && [...document.querySelectorAll("[data-waiting]")].every((one) => one.textContent === "")');

            return ($quiet = $rests ? $quiet + 1 : 0) > 4;
        }, 'the page to rest', 30);

        return $this;
    }

    /**
     * Errors that the page wrote to the console, without requests that were given up because a newer one
     * took their place or the page was left.
     *
     * @return list<string>
     */
    public function complaints(): array
    {
        return array_values(array_map(static fn (array $entry): string => $entry['message'], array_filter($this->driver->manage()->getLog('browser'), static fn (array $entry): bool => $entry['level'] === 'SEVERE' && preg_match('/"htmx:(?:sendAbort|afterRequest), \[object/', $entry['message']) !== 1)));
    }

    public function picture(string $file): self
    {
        $this->driver->executeScript('document.activeElement?.blur?.()');
        $this->driver->takeScreenshot($file);

        return $this;
    }

    public function leave(): void
    {
        $this->driver->quit();
        exec('rm -rf '.escapeshellarg($this->profile));
    }
}
