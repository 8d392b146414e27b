<?php

declare(strict_types=1);

namespace Tests\Browser;

use App\Local\MariaDb;
use DeepSpring\Identity\Base32;
use DeepSpring\Identity\Totp;
use Tests\Lane;

/**
 * Somebody is invited, comes in, sets up a second factor, and is switched off in the middle of a page.
 */
final class PeopleTest extends BrowserTestCase
{
    private const PASSWORD = 'tide rope lantern quay';

    public function test_from_the_invitation_to_being_switched_off(): void
    {
        $mail = 'joris'.bin2hex(random_bytes(3)).'@saltmarsh.example';
        $administrator = $this->administrator()->go('/people')->see('who can sign in, and as what');
        $administrator->type('#email', $mail)->choose('#role', 'builder')->press('Make the invitation')->see('works once, within 7 days')->see('Invited, not here yet');
        $link = $administrator->one('.note code')->getText();

        $joris = Person::arrive((string) getenv('SPRING_DRIVER'), (string) getenv('APP_URL'));
        try {
            $joris->go((string) parse_url($link, PHP_URL_PATH))->see("has invited $mail as builder");
            $joris->type('#name', 'Joris Quay')->type('#password', 'short')->see('at least 12 characters');
            $joris->type('#password', self::PASSWORD)->see('ood.')->type('#password-again', self::PASSWORD)->press('Continue')->see('Joris Quay');

            $joris->go('/account')->type('#current-second', 'not mine')->press('Set it up')->see('not your current password');
            $joris->type('#current-second', self::PASSWORD)->press('Set it up')->see('Read this with an authenticator');
            self::assertGreaterThan(400, (int) $joris->driver->executeScript('return document.querySelector("[data-qr] svg")?.outerHTML.length ?? 0'), 'the key is drawn');
            preg_match('/Key\s+([A-Z2-7 ]{30,})/', $joris->text(), $key);
            $totp = new Totp((string) Base32::decode($key[1] ?? ''));
            $joris->type('#code', $totp->at(time()))->press('Turn it on')->see('Keep these codes')->see('10 recovery codes left');
            $codes = array_map(static fn ($one): string => $one->getText(), $joris->all('main ul.m li'));
            self::assertCount(10, $codes);
            $joris->press('Joris Quay')->press('Sign out')->see('Forgot the password?');

            $joris->type('#email', $mail)->type('#password', self::PASSWORD)->press('Sign in')->see('One more step');
            $joris->type('#code', '123456')->press('Sign in')->see('This code is not right');
            $joris->type('#code', $codes[0])->press('Sign in')->see('Watershed');

            // In the middle of a page, the administrator switches him off.
            $joris->go('/sources/loans-desk')->see('Loans desk');
            $administrator->go('/people?q='.$mail)->press('Switch off')->see('Switch on');
            $joris->type('#name', 'Another name')->keys("\u{E004}")->see('Your session has ended');
            self::assertSame('Another name', $joris->one('#name')->getAttribute('value'), 'what was typed is still there');
            $joris->go('/sources')->see('Sign in');
            $joris->type('#email', $mail)->type('#password', self::PASSWORD)->press('Sign in')->see('do not belong together');
        } finally {
            $joris->leave();
        }
        $administrator->go('/people/log?q='.$mail)->see('person joined')->see('person switched off')->see('sign-in refused');
    }

    public function test_without_javascript_it_is_said(): void
    {
        $page = (string) file_get_contents(getenv('APP_URL').'/sign-in');
        self::assertStringContainsString('<noscript><p', $page);
        $person = $this->builder()->go('/sources/loans-desk');
        self::assertStringContainsString('Without JavaScript most buttons here do nothing', (string) $person->driver->getPageSource());
    }

    public function test_a_statement_that_waits_says_so_and_then_runs_by_itself(): void
    {
        // The page is open before the statements begin, so that a slow browser does not outlast them.
        $person = $this->analyst()->go('/queries/1')->see('Run');
        $client = new \GuzzleHttp\Client(['base_uri' => (string) getenv('APP_URL'), 'cookies' => true, 'http_errors' => false]);
        $form = static fn (string $html): string => preg_match('/name="csrf-token" content="([^"]+)"/', $html, $part) === 1 ? $part[1] : '';
        $client->post('/sign-in', ['form_params' => ['_token' => $form((string) $client->get('/sign-in')->getBody()), 'email' => 'tomas@saltmarsh.example', 'password' => (string) getenv('SPRING_DEMO_ANALYST')]]);
        $token = $form((string) $client->get('/queries/new')->getBody());
        $long = [];
        for ($number = 0; $number < 3; $number++) {
            $long[] = $client->postAsync('/queries/run', ['headers' => ['X-CSRF-TOKEN' => $token], 'form_params' => ['sql' => 'select sleep(29)']]);
        }
        $running = \GuzzleHttp\Promise\Utils::settle($long);
        // The requests leave while the queue is worked on.
        $process = pcntl_fork();
        if ($process === 0) {
            $running->wait();
            posix_kill((int) getmypid(), SIGKILL);
        }
        $database = (new MariaDb(dirname(__DIR__, 2).'/'.Lane::folder(), (int) getenv('DB_PORT'), []))->administrator();
        $underWay = static fn (): array => $database->query("select id from information_schema.processlist where info like '%sleep(29)%' and info not like '%processlist%'")->fetchAll(\PDO::FETCH_COLUMN);
        for ($until = microtime(true) + 25; count($underWay()) < 3 && microtime(true) < $until; usleep(20_000));
        self::assertCount(3, $underWay());
        $person->tryIt()->see('Waits for its turn')->see('3 of your statements run already');
        // They need not be waited for: once they end, the one that waits runs.
        foreach ($underWay() as $id) {
            $database->exec("kill query $id");
        }
        $person->see('rows in', 60);
        self::assertStringNotContainsString('Waits for its turn', $person->text());
        pcntl_waitpid($process, $status);
    }
}
