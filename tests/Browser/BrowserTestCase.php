<?php

declare(strict_types=1);

namespace Tests\Browser;

use PHPUnit\Framework\TestCase;

/**
 * Somebody at the screens of the application that `./spring test` has started, with its demo data.
 */
abstract class BrowserTestCase extends TestCase
{
    private ?Person $person = null;

    protected string $downloads = '';

    protected function person(): Person
    {
        if ($this->person === null) {
            $this->downloads = sys_get_temp_dir().'/spring-downloads-'.bin2hex(random_bytes(4));
            mkdir($this->downloads);
            $this->person = Person::arrive((string) getenv('SPRING_DRIVER'), (string) getenv('APP_URL'), $this->downloads);
        }

        return $this->person;
    }

    protected function builder(): Person
    {
        return $this->person()->signIn('ines@saltmarsh.example', (string) getenv('SPRING_DEMO_BUILDER'));
    }

    protected function analyst(): Person
    {
        return $this->person()->signIn('tomas@saltmarsh.example', (string) getenv('SPRING_DEMO_ANALYST'));
    }

    protected function administrator(): Person
    {
        return $this->person()->signIn('maren@saltmarsh.example', (string) getenv('SPRING_DEMO_ADMINISTRATOR'));
    }

    /**
     * Whoever comes next comes with a browser of their own.
     */
    protected function leave(): void
    {
        $this->person = null;
    }

    protected function standins(): string
    {
        return (string) getenv('SPRING_STANDINS');
    }

    protected function tearDown(): void
    {
        if ($this->person !== null && $this->status()->isFailure() | $this->status()->isError()) {
            $this->person->picture(sys_get_temp_dir().'/spring-'.preg_replace('/\W+/', '-', $this->name()).'.png');
        }
        $this->person?->leave();
        $this->person = null;
        exec('rm -rf '.escapeshellarg($this->downloads));
        parent::tearDown();
    }
}
