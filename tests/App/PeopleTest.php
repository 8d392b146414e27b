<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Invitation;
use App\Models\LogEntry;
use App\Models\OpenSession;
use App\Models\Role;
use App\Models\Setting;
use App\Models\User;
use App\People\Invitations;
use App\People\Passwords;
use App\People\People;
use App\People\PersonRefused;
use App\People\SignInThrottle;
use DeepSpring\Identity\Base32;
use DeepSpring\Identity\Totp;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\Hash;
use Illuminate\Support\Facades\Mail;
use Illuminate\Support\Facades\RateLimiter;
use Tests\Lane;

/**
 * People: invited, signed in, with a second factor, switched off; and the log that says so.
 */
final class PeopleTest extends AppTestCase
{
    private const PASSWORD = 'tide rope lantern quay';

    protected function setUp(): void
    {
        parent::setUp();
        // A log that is only added to begins here for each test.
        $this->logged = (int) LogEntry::query()->max('id');
    }

    private int $logged = 0;

    /**
     * @return list<string> what was written down since the test began
     */
    private function log(): array
    {
        return LogEntry::query()->where('id', '>', $this->logged)->orderBy('id')->get()->map(static fn (LogEntry $one): string => "$one->person_name: $one->action $one->subject")->all();
    }

    private function somebody(Role $role = Role::Builder): User
    {
        return User::query()->create(['name' => 'Edda Marsh', 'email' => 'edda@saltmarsh.example', 'password' => self::PASSWORD, 'role' => $role, 'environment_id' => $this->trial()->id]);
    }

    private function signIn(string $email = 'edda@saltmarsh.example', string $password = self::PASSWORD): \Illuminate\Testing\TestResponse
    {
        return $this->post('/sign-in', ['email' => $email, 'password' => $password]);
    }

    public function test_somebody_is_invited_chooses_a_password_and_is_in(): void
    {
        $administrator = $this->person(Role::Administrator);
        $this->actingAs($administrator)->post('/people', ['email' => 'Joris@Saltmarsh.example', 'role' => 'builder'])->assertRedirect('/people');
        $page = (string) $this->get('/people')->assertOk()->assertSee('joris@saltmarsh.example')->assertSee('works once, within 7 days')->getContent();
        preg_match('~/invitations/([A-Za-z0-9_-]{32})~', $page, $token);
        self::assertNotEmpty($token);
        self::assertStringNotContainsString($token[1], (string) Invitation::query()->value('token'), 'the database holds no way in');
        $this->post('/sign-out');
        $this->get("/invitations/$token[1]")->assertOk()->assertSee('has invited joris@saltmarsh.example as builder');
        $this->post("/invitations/$token[1]", ['name' => 'Joris Quay', 'password' => 'short', 'again' => 'short'])->assertSessionHasErrors('password');
        $this->post("/invitations/$token[1]", ['name' => 'Joris Quay', 'password' => self::PASSWORD, 'again' => 'another'])->assertSessionHasErrors('again');
        $this->post("/invitations/$token[1]", ['name' => 'Joris Quay', 'password' => self::PASSWORD, 'again' => self::PASSWORD])->assertRedirect('/');
        $joris = User::query()->where('email', 'joris@saltmarsh.example')->firstOrFail();
        self::assertSame(Role::Builder, $joris->role);
        $this->assertAuthenticatedAs($joris);
        $this->get("/invitations/$token[1]")->assertNotFound()->assertSee('does not work any more');
        $this->post("/invitations/$token[1]", ['name' => 'X', 'password' => self::PASSWORD, 'again' => self::PASSWORD])->assertNotFound();
        self::assertContains('Joris Quay: person joined joris@saltmarsh.example', $this->log());
    }

    public function test_a_link_ends_by_time_by_a_newer_one_and_when_it_is_taken_back(): void
    {
        $invitations = app(Invitations::class);
        $token = static fn (string $link): string => basename($link);
        [$first] = $invitations->invite('a@saltmarsh.example', '', Role::Analyst, null);
        [$second] = $invitations->invite('a@saltmarsh.example', '', Role::Analyst, null);
        self::assertNull($invitations->find($token($first)));
        self::assertNotNull($invitations->find($token($second)));
        $this->travel(8)->days();
        self::assertNull($invitations->find($token($second)));
        $this->travelBack();
        // A clock that went back does not make a link last longer.
        Invitation::query()->update(['expires_at' => Carbon::now()->addDays(30)]);
        self::assertNull($invitations->find($token($second)));
        $edda = $this->somebody();
        [$reset] = $invitations->reset($edda, null);
        $this->travel(61)->minutes();
        self::assertNull($invitations->find($token($reset)));
        $this->travelBack();
        [$reset] = $invitations->reset($edda, null);
        $edda->forceFill(['off_at' => now()])->save();
        self::assertNull($invitations->find($token($reset)), 'not for somebody who is switched off');
        $first = $invitations->first();
        self::assertNull($invitations->find($token($first)), 'the first administrator is made on an empty installation only');
    }

    public function test_the_last_administrator_can_neither_be_switched_off_nor_demoted(): void
    {
        $one = $this->person(Role::Administrator);
        $two = $this->person(Role::Administrator);
        $people = app(People::class);
        $people->switchOff($two);
        foreach ([fn () => $people->switchOff($one->refresh()), fn () => $people->changeRole($one->refresh(), Role::Builder)] as $do) {
            try {
                $do();
                self::fail('It was done.');
            } catch (PersonRefused $refused) {
                self::assertStringContainsString('last administrator', $refused->getMessage());
            }
        }
        $this->actingAs($one)->post("/people/$one->id/off")->assertSessionHasErrors("person.$one->id");
        $people->switchOn($two->refresh());
        $people->changeRole($one->refresh(), Role::Builder);
        self::assertSame(Role::Builder, $one->refresh()->role);
    }

    public function test_two_administrators_who_demote_each_other_at_the_same_moment_leave_one(): void
    {
        [$one, $two] = [$this->person(Role::Administrator), $this->person(Role::Administrator)];
        $code = 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\Contracts\Console\Kernel::class)->bootstrap(); $person = App\Models\User::query()->findOrFail((int) $argv[1]); while (microtime(true) < (float) $argv[2]); try { app(App\People\People::class)->changeRole($person, App\Models\Role::Analyst); } catch (App\People\PersonRefused) {}';
        $at = (string) (microtime(true) + 1.5);
        $processes = array_map(static fn (User $who) => proc_open([PHP_BINARY, '-r', $code, (string) $who->id, $at], [], $pipes, base_path()), [$one, $two]);
        foreach ($processes as $process) {
            self::assertIsResource($process);
            self::assertSame(0, proc_close($process));
        }
        self::assertSame(1, User::query()->where('role', Role::Administrator)->count());
    }

    public function test_somebody_who_is_switched_off_is_out_in_the_middle_of_a_page_and_cannot_come_back(): void
    {
        $edda = $this->somebody();
        $this->person(Role::Administrator);
        $this->signIn()->assertRedirect('/');
        $this->get('/sources')->assertOk();
        app(People::class)->switchOff($edda);
        $this->get('/queries', ['HX-Request' => 'true'])->assertStatus(401);
        $this->get('/sources')->assertRedirect('/sign-in');
        $this->signIn()->assertSessionHasErrors('email');
        $this->assertGuest();
        app(People::class)->switchOn($edda->refresh());
        $this->signIn()->assertRedirect('/sources');
        self::assertContains('nobody: sign-in refused edda@saltmarsh.example', $this->log());
    }

    public function test_a_changed_password_ends_every_other_session(): void
    {
        $edda = $this->somebody();
        $this->signIn();
        $here = session()->all();
        OpenSession::query()->create(['user_id' => $edda->id, 'mark' => hash('sha256', 'elsewhere'), 'agent' => 'Mozilla/5.0 (X11; Linux) Firefox/130.0', 'begun_at' => now(), 'seen_at' => now()]);
        $this->post('/account/password', ['current' => 'wrong', 'password' => 'lamp oar tide mist', 'again' => 'lamp oar tide mist'])->assertSessionHasErrors('current');
        $this->post('/account/password', ['current' => self::PASSWORD, 'password' => 'lamp oar tide mist', 'again' => 'lamp oar tide mist'])->assertSessionHasNoErrors();
        self::assertSame(1, OpenSession::query()->count());
        $this->get('/account')->assertOk()->assertSee('1 other session was ended');
        $this->flushSession();
        $this->withSession(['open_session' => 'elsewhere'] + $here)->get('/sources')->assertRedirect('/sign-in');
        self::assertTrue(Hash::check('lamp oar tide mist', $edda->refresh()->password));
        // By a link they end as well, the present one too.
        app(Invitations::class)->changePassword($edda, self::PASSWORD);
        self::assertSame(0, OpenSession::query()->count());
    }

    public function test_sessions_are_listed_and_ended_one_by_one(): void
    {
        $edda = $this->somebody();
        $this->signIn();
        $other = OpenSession::query()->create(['user_id' => $edda->id, 'mark' => hash('sha256', 'x'), 'ip' => '192.0.2.9', 'agent' => 'Mozilla/5.0 (Windows NT 10.0) Chrome/150.0 Safari/537.36', 'begun_at' => now(), 'seen_at' => now()]);
        $stranger = OpenSession::query()->create(['user_id' => $this->person()->id, 'mark' => hash('sha256', 'y'), 'agent' => '', 'begun_at' => now(), 'seen_at' => now()]);
        $this->get('/account')->assertOk()->assertSee('Chrome on Windows')->assertSee('192.0.2.9')->assertSee('this one');
        $this->delete("/account/sessions/$stranger->id")->assertNotFound();
        $this->delete("/account/sessions/$other->id")->assertRedirect();
        self::assertSame(2, OpenSession::query()->count());
        $this->delete('/account/sessions')->assertRedirect();
        $this->get('/account')->assertOk();
    }

    public function test_a_second_factor_is_set_up_asked_for_and_its_codes_work_once(): void
    {
        $edda = $this->somebody();
        $this->signIn();
        $this->post('/account/second-factor', ['current' => self::PASSWORD])->assertRedirect();
        $page = (string) $this->get('/account')->assertOk()->getContent();
        preg_match('~<code>([A-Z2-7 ]{30,})</code>~', $page, $key);
        $totp = new Totp((string) Base32::decode($key[1] ?? ''));
        self::assertStringContainsString('otpauth://totp/Deep%20Spring:edda', html_entity_decode($page));
        self::assertStringNotContainsString(str_replace(' ', '', $key[1]), (string) json_encode($edda->refresh()->getAttributes()), 'it is kept sealed');
        $this->post('/account/second-factor/confirm', ['code' => '000000'])->assertSessionHasErrors('code');
        $this->post('/account/second-factor/confirm', ['code' => $totp->at(time() - 30)])->assertSessionHasNoErrors();
        $codes = session('codes');
        self::assertCount(10, $codes);
        $this->get('/account')->assertSee($codes[0]);
        $this->get('/account')->assertDontSee($codes[0]);
        $this->post('/sign-out');

        $this->signIn()->assertRedirect('/sign-in/second');
        $this->assertGuest();
        $this->get('/sources')->assertRedirect('/sign-in');
        $this->post('/sign-in/second', ['code' => $totp->at(time() - 30)])->assertSessionHasErrors('code');
        $this->post('/sign-in/second', ['code' => $totp->at(time())])->assertRedirect();
        $this->assertAuthenticated();
        $this->post('/sign-out');
        $this->signIn();
        $this->post('/sign-in/second', ['code' => strtoupper($codes[4])])->assertRedirect();
        $this->assertAuthenticated();
        $this->post('/sign-out');
        $this->signIn();
        $this->post('/sign-in/second', ['code' => $codes[4]])->assertSessionHasErrors('code');
        $this->travel(11)->minutes();
        $this->get('/sign-in/second')->assertRedirect('/sign-in');
        $this->travelBack();
        self::assertCount(9, $edda->refresh()->recovery_codes ?? []);
        self::assertContains('Edda Marsh: second factor set up edda@saltmarsh.example', $this->log());
    }

    public function test_a_role_that_has_to_have_a_second_factor_sets_one_up_before_anything_else(): void
    {
        $this->somebody();
        $administrator = $this->person(Role::Administrator);
        $this->actingAs($administrator)->post('/people/policy', ['roles' => ['builder', 'nonsense']])->assertRedirect('/people');
        self::assertSame('builder', Setting::text(Setting::SECOND_FACTOR_FOR));
        $this->post('/sign-out');
        $this->signIn();
        $this->get('/sources')->assertRedirect('/account');
        $this->get('/account')->assertOk()->assertSee('Set one up first');
        $this->get('/sources', ['HX-Request' => 'true'])->assertStatus(403);
        $this->actingAs($administrator)->get('/people')->assertOk();
    }

    public function test_the_sign_in_is_throttled_by_person_here_by_person_anywhere_and_by_address(): void
    {
        $this->somebody();
        $from = fn (string $ip): static => $this->withServerVariables(['REMOTE_ADDR' => $ip]);
        for ($try = 0; $try < SignInThrottle::HERE; $try++) {
            $from('192.0.2.1')->signIn(password: 'wrong')->assertSessionHasErrors('email');
        }
        $from('192.0.2.1')->signIn()->assertStatus(429);
        $from('192.0.2.2')->signIn()->assertRedirect('/');
        $this->post('/sign-out');
        RateLimiter::clear('');
        $this->app?->make('cache')->store()->flush();
        for ($try = 0; $try < SignInThrottle::ANYWHERE; $try++) {
            $from("192.0.2.$try")->signIn(password: 'wrong')->assertSessionHasErrors('email');
        }
        $from('198.51.100.1')->signIn()->assertStatus(429);
        $this->app?->make('cache')->store()->flush();
        for ($try = 0; $try < SignInThrottle::ADDRESS; $try++) {
            $from('192.0.2.1')->signIn("nobody$try@saltmarsh.example", 'wrong')->assertSessionHasErrors('email');
        }
        $from('192.0.2.1')->signIn('nobody-else@saltmarsh.example')->assertStatus(429);
    }

    public function test_a_throttle_that_a_clock_of_tomorrow_began_is_let_go(): void
    {
        $this->somebody();
        $this->travel(1)->days();
        for ($try = 0; $try < SignInThrottle::HERE; $try++) {
            $this->signIn(password: 'wrong');
        }
        $this->signIn()->assertStatus(429);
        $this->travelBack();
        $this->signIn()->assertRedirect('/');
    }

    public function test_nobody_learns_by_time_who_there_is(): void
    {
        // The suite hashes cheaply elsewhere.
        Hash::setRounds(12);
        $edda = $this->somebody();
        $passwords = app(Passwords::class);
        // The same work is done for both: a hash of the same cost is compared.
        self::assertSame(password_get_info($edda->password)['options'], password_get_info(Passwords::NOBODY)['options']);
        // Time of this process alone, in turn, so that a busy machine does not tell them apart.
        $used = static function (?User $who) use ($passwords): float {
            $begun = getrusage();
            self::assertFalse($passwords->isRight($who, 'something else'));
            $ended = getrusage();

            return 1e6 * ($ended['ru_utime.tv_sec'] - $begun['ru_utime.tv_sec']) + $ended['ru_utime.tv_usec'] - $begun['ru_utime.tv_usec'];
        };
        $known = [];
        $unknown = [];
        for ($round = 0; $round < 6; $round++) {
            $known[] = $used($edda);
            $unknown[] = $used(null);
        }
        self::assertEqualsWithDelta(1.0, min($known) / min($unknown), 0.25);
        $told = $this->signIn(password: 'wrong')->getSession()->get('errors')->first('email');
        self::assertSame($told, $this->signIn('nobody@saltmarsh.example', 'wrong')->getSession()->get('errors')->first('email'));
    }

    public function test_what_is_no_text_is_no_fault_of_ours(): void
    {
        $this->get('/sign-in?email[]=x')->assertOk();
        $this->post('/sign-in', ['email' => ['x'], 'password' => ['y']])->assertSessionHasErrors(['email', 'password']);
        $this->get('/sign-in')->assertOk();
        foreach (['/forgotten', '/invitations/x', '/invitations/%ff', '/sign-in/second'] as $path) {
            self::assertLessThan(500, $this->get($path)->status(), $path);
        }
        $this->post('/strength', ['password' => ['x']])->assertOk();
        $this->post('/strength', ['password' => 'aaaa'])->assertOk()->assertSee('at least 12 characters');
        $this->post('/strength', ['password' => self::PASSWORD])->assertOk()->assertSee('good');
    }

    public function test_a_forgotten_password_is_mailed_where_mail_is_set_up_and_says_the_same_of_strangers(): void
    {
        $this->get('/forgotten')->assertOk()->assertSee('sends no mail');
        $this->post('/forgotten', ['email' => 'x@saltmarsh.example'])->assertNotFound();
        config(['mail.default' => 'array']);
        $this->somebody();
        $sent = static fn (): array => Mail::mailer('array')->getSymfonyTransport()->messages()->all();
        $stranger = $this->post('/forgotten', ['email' => 'stranger@saltmarsh.example'])->getSession()->get('notice');
        self::assertCount(0, $sent());
        self::assertSame($stranger, $this->post('/forgotten', ['email' => 'edda@saltmarsh.example'])->getSession()->get('notice'));
        self::assertCount(1, $sent());
        $text = $sent()[0]->getOriginalMessage()->getTextBody();
        preg_match('~http://127\.0\.0\.1:\d+/invitations/(\S+)~', (string) $text, $link);
        self::assertNotEmpty($link, (string) $text);
        $this->post("/invitations/$link[1]", ['password' => 'lamp oar tide mist', 'again' => 'lamp oar tide mist'])->assertRedirect('/');
        $this->assertAuthenticated();
    }

    public function test_mail_goes_out_over_smtp_and_a_server_that_is_away_is_said(): void
    {
        $inbox = (string) tempnam(sys_get_temp_dir(), 'mail');
        $port = Lane::ports(8860)->web;
        $server = \App\Local\Child::start('mail', [PHP_BINARY, __DIR__.'/MailServer.php', (string) $port, $inbox], [], '/dev/null', base_path());
        try {
            \App\Local\Ports::await($port, 'The mail server');
            config(['mail.default' => 'smtp', 'mail.mailers.smtp.host' => '127.0.0.1', 'mail.mailers.smtp.port' => $port]);
            [$link, $said] = app(Invitations::class)->invite('post@saltmarsh.example', '', Role::Analyst, null);
            self::assertSame('It was sent to post@saltmarsh.example.', $said);
            $mail = quoted_printable_decode((string) file_get_contents($inbox));
            self::assertStringContainsString($link, $mail);
            self::assertStringContainsString('To: post@saltmarsh.example', $mail);
        } finally {
            $server->stop(1);
            unlink($inbox);
        }
        Mail::purge('smtp');
        [, $said] = app(Invitations::class)->invite('post@saltmarsh.example', '', Role::Analyst, null);
        self::assertStringContainsString('The mail could not be sent', (string) $said);
    }

    public function test_times_and_numbers_are_written_as_somebody_wants_them(): void
    {
        $edda = $this->person();
        $this->actingAs($edda)->post('/account', ['name' => 'Edda', 'zone' => 'Nowhere/Land', 'dates' => 'iso', 'numbers' => 'space'])->assertSessionHasErrors('zone');
        $this->post('/account', ['name' => 'Edda', 'zone' => 'Asia/Kolkata', 'dates' => 'day-first', 'numbers' => 'dot'])->assertSessionHasNoErrors();
        $this->travelTo(Carbon::parse('2031-02-03 20:15:00', 'UTC'));
        OpenSession::query()->update(['begun_at' => Carbon::now(), 'seen_at' => Carbon::now()]);
        $this->get('/account')->assertOk()->assertSee('04.02.2031 01:45');
        $moments = new \App\View\Moments('UTC', 'month-name', 'comma');
        self::assertSame(['3 Feb 2031, 20:15', '1,234,567', '1,234.50', '-12.5'], [$moments->at(Carbon::now()), $moments->number(1234567), $moments->decimal('1234.50'), $moments->decimal('-12.5')]);
        self::assertSame('1.234,50', (new \App\View\Moments(numbers: 'dot'))->decimal('1234.50'));
    }

    public function test_the_log_is_searched_exported_and_for_administrators(): void
    {
        $administrator = $this->person(Role::Administrator);
        $this->actingAs($administrator)->post('/outbound', ['host' => 'lab.saltmarsh.example:8443', 'note' => '=cmd()']);
        $this->get('/people/log?q=lab.saltmarsh')->assertOk()->assertSee('host allowed')->assertSee('lab.saltmarsh.example:8443');
        $this->get('/people/log?action=host+allowed')->assertOk()->assertSee('lab.saltmarsh.example:8443');
        $this->get('/people/log?q=nothing-like-this')->assertOk()->assertSee('No entry matches');
        $csv = $this->get('/people/log.csv?q=lab.saltmarsh')->assertOk()->streamedContent();
        self::assertStringContainsString("'=cmd()", $csv);
        $this->actingAs($this->person(Role::Builder))->get('/people/log')->assertForbidden();
        Artisan::call('spring:log', ['text' => 'lab.saltmarsh', '--last' => '5']);
        self::assertStringContainsString('host allowed  lab.saltmarsh.example:8443', Artisan::output());
    }

    public function test_what_matters_is_written_down(): void
    {
        $administrator = $this->person(Role::Administrator);
        $this->actingAs($administrator);
        $source = $this->source();
        $this->post('/sources/loans-desk/secrets', ['secret_name' => 'client_secret', 'secret_value' => 'ld-secret-4f0c2a77b1e9d358']);
        $store = app(\App\Sources\SourceStore::class);
        $store->edit($source, $administrator, static function (array $document): array {
            $document['source']['environments']['trial']['base'] = 'http://127.0.0.1:9/v2';
            $document['source']['access'][] = ['scheme' => 'bearer', 'token' => ['secret' => 'x']];

            return $document;
        });
        $store->publish($source, $administrator);
        $this->post('/queries/export', ['sql' => 'select 1 as one'])->assertSee('Get the file');
        $this->delete('/sources/loans-desk/endpoints/loans');
        $this->post('/environments', ['name' => 'Rehearsal']);
        $this->delete('/environments/rehearsal');
        $this->delete('/sources/loans-desk');
        Artisan::call('spring:rotate-key');
        $log = implode("\n", $this->log());
        foreach (['source added loans-desk', 'secret given loans-desk, trial: client_secret', 'address changed loans-desk, trial', 'access changed loans-desk', 'source published loans-desk', 'rows exported select 1 as one', 'endpoint deleted loans-desk: loans', 'environment changed rehearsal', 'source deleted loans-desk', 'key for secrets changed key file'] as $entry) {
            self::assertStringContainsString($entry, $log);
        }
        self::assertStringNotContainsString('ld-secret', $log);
    }

    public function test_people_are_looked_after_on_the_command_line(): void
    {
        [$code, $out, $errors] = $this->artisanProcess('spring:person', 'add', 'Joris@saltmarsh.example', 'administrator', '--name=Joris');
        self::assertSame(0, $code, $errors);
        self::assertMatchesRegularExpression('~^http://127\.0\.0\.1:\d+/invitations/\S+\n$~D', $out);
        $this->post('/invitations/'.basename(trim($out)), ['name' => 'Joris', 'password' => self::PASSWORD, 'again' => self::PASSWORD])->assertRedirect('/');
        $this->somebody(Role::Analyst);
        foreach ([['role', 'edda@saltmarsh.example', 'builder', 0], ['off', 'edda@saltmarsh.example', null, 0], ['on', 'edda@saltmarsh.example', null, 0], ['reset', 'edda@saltmarsh.example', null, 0], ['off', 'joris@saltmarsh.example', null, 1], ['off', 'nobody@saltmarsh.example', null, 1], ['dance', 'edda@saltmarsh.example', null, 2], ['off', 'no-address', null, 2], ['role', 'edda@saltmarsh.example', 'king', 2]] as [$do, $email, $role, $expected]) {
            [$code, , $errors] = $this->artisanProcess('spring:person', $do, $email, ...($role === null ? [] : [$role]));
            self::assertSame($expected, $code, "$do $email: $errors");
            self::assertStringNotContainsString('Stack trace', $errors);
        }
        [$code, $out] = $this->artisanProcess('spring:person', 'list', '--json');
        self::assertSame([0, 2], [$code, count((array) json_decode($out, true))]);
    }
}
