<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Role;
use App\Models\User;
use App\People\Provider\Provider;
use App\People\Provider\ProviderPeople;
use Illuminate\Testing\TestResponse;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Sign-in through an OpenID provider, which the gatehouse plays.
 */
final class ProviderTest extends AppTestCase
{
    protected function setUp(): void
    {
        parent::setUp();
        $this->configure([]);
        $this->faults('gatehouse', []);
    }

    protected function tearDown(): void
    {
        $this->faults('gatehouse', []);
        parent::tearDown();
    }

    /**
     * @param  array<string, mixed>  $more
     */
    private function configure(array $more): void
    {
        config(['spring.provider' => $more + [
            'name' => 'the gatehouse', 'issuer' => self::$standinsAddress.'/gatehouse', 'client_id' => 'deep-spring', 'client_secret' => 'gh-secret-7b1e50d2c94fa836', 'scope' => 'openid email profile',
            'role_claim' => 'groups', 'roles' => 'circle-admins=administrator, circle-desk=builder', 'new_role' => null, 'only' => false,
        ]]);
        foreach ([Provider::class, ProviderPeople::class] as $class) {
            $this->app?->forgetInstance($class);
        }
        $this->app?->make('cache')->store()->flush();
    }

    /**
     * The way to the gatehouse and back, as a browser goes it.
     *
     * @param  \Closure(array<string, string>): array<string, string>|null  $on  what happens to the answer on the way
     */
    private function come(string $who, ?\Closure $on = null): TestResponse
    {
        $begun = $this->get('/sign-in/provider');
        if (! str_contains((string) $begun->headers->get('Location'), '/gatehouse/authorize')) {
            return $begun;
        }
        parse_str((string) parse_url((string) $begun->headers->get('Location'), PHP_URL_QUERY), $asked);
        self::assertSame(['code', 'S256'], [$asked['response_type'], $asked['code_challenge_method']]);
        $context = stream_context_create(['http' => ['method' => 'POST', 'follow_location' => 0, 'header' => 'Content-Type: application/x-www-form-urlencoded', 'ignore_errors' => true, 'content' => http_build_query(['who' => $who] + $asked)]]);
        file_get_contents(self::$standinsAddress.'/gatehouse/authorize', false, $context);
        $location = '';
        foreach ($http_response_header as $header) {
            $location = preg_match('/^Location: (.*)$/i', $header, $part) === 1 ? $part[1] : $location;
        }
        parse_str((string) parse_url($location, PHP_URL_QUERY), $answer);

        return $this->get('/sign-in/provider/return?'.http_build_query($on === null ? $answer : $on($answer)));
    }

    public function test_somebody_new_comes_in_with_the_role_that_the_claim_gives(): void
    {
        $this->get('/sign-in')->assertOk()->assertSee('Sign in with the gatehouse');
        $this->come('edda')->assertRedirect('/');
        $edda = User::query()->where('email', 'edda@saltmarsh.example')->firstOrFail();
        self::assertSame([Role::Builder, 'gh-edda', 'Edda Marsh'], [$edda->role, $edda->provider_subject, $edda->name]);
        $this->get('/sources')->assertOk();
        $this->post('/sign-out');
        $this->come('edda')->assertRedirect('/');
        self::assertSame(1, User::query()->where('email', 'edda@saltmarsh.example')->count());
        $this->post('/sign-out');
        $this->come('joris')->assertRedirect('/');
        self::assertSame(Role::Administrator, User::query()->where('email', 'joris@saltmarsh.example')->firstOrFail()->role, 'the first of our roles that one of several groups gives');
    }

    public function test_somebody_who_is_here_is_found_by_an_address_that_was_proven_and_by_no_other(): void
    {
        $maren = User::query()->create(['name' => 'Maren Osk', 'email' => 'maren@saltmarsh.example', 'password' => 'tide rope lantern quay', 'role' => Role::Analyst, 'environment_id' => $this->trial()->id]);
        $ines = User::query()->create(['name' => 'Ines Varga', 'email' => 'ines@saltmarsh.example', 'password' => 'tide rope lantern quay', 'role' => Role::Administrator, 'environment_id' => $this->trial()->id]);
        $this->come('maren')->assertRedirect('/');
        $this->assertAuthenticatedAs($maren->refresh());
        self::assertSame(Role::Administrator, $maren->role, 'the role follows the claim');
        $this->post('/sign-out');
        $this->come('unproven')->assertRedirect('/sign-in')->assertSessionHas('trouble', 'The provider does not vouch for an email address of yours.');
        $this->assertGuest();
        self::assertNull($ines->refresh()->provider_subject);
    }

    public function test_somebody_without_a_role_needs_an_invitation_unless_new_people_get_one(): void
    {
        $this->come('nobody')->assertRedirect('/sign-in')->assertSessionHas('trouble');
        $this->configure(['new_role' => 'analyst']);
        $this->come('nobody')->assertRedirect('/');
        self::assertSame(Role::Analyst, User::query()->where('email', 'without@saltmarsh.example')->firstOrFail()->role);
        $this->post('/sign-out');
        User::query()->update(['off_at' => now()]);
        $this->come('nobody')->assertRedirect('/sign-in')->assertSessionHas('trouble', 'This person is switched off here. An administrator can switch them on again.');
        $this->assertGuest();
    }

    public function test_it_can_be_the_only_way_in(): void
    {
        $this->configure(['only' => true]);
        $this->get('/sign-in')->assertOk()->assertDontSee('name="password"', false);
        $this->post('/sign-in', ['email' => 'x@saltmarsh.example', 'password' => 'tide rope lantern quay'])->assertNotFound();
        [$link] = app(\App\People\Invitations::class)->invite('x@saltmarsh.example', '', Role::Analyst, null);
        $this->get((string) parse_url($link, PHP_URL_PATH))->assertNotFound();
        $this->post((string) parse_url($link, PHP_URL_PATH), ['name' => 'X', 'password' => 'tide rope lantern quay', 'again' => 'tide rope lantern quay'])->assertNotFound();
        $this->get('/forgotten')->assertNotFound();
        $this->assertGuest();
        $this->come('edda')->assertRedirect('/');
    }

    /**
     * @return iterable<string, array{array<string, mixed>, string}>
     */
    public static function forgeries(): iterable
    {
        yield 'another audience' => [['claims' => ['aud' => 'another']], 'for another application'];
        yield 'several audiences and no party' => [['claims' => ['aud' => ['deep-spring', 'another']]], 'made for another application'];
        yield 'another party' => [['claims' => ['azp' => 'another']], 'made for another application'];
        yield 'another issuer' => [['claims' => ['iss' => 'https://gate.example']], 'of another issuer'];
        yield 'ended' => [['claims' => ['exp' => 1_600_000_000]], 'not valid'];
        yield 'of tomorrow' => [['claims' => ['iat' => 4_000_000_000]], 'not valid'];
        yield 'too old' => [['claims' => ['iat' => 1_600_000_000]], 'too old'];
        yield 'of another sign-in' => [['claims' => ['nonce' => 'another']], 'belongs to another sign-in'];
        yield 'of nobody' => [['claims' => ['sub' => '']], 'who it is of'];
        yield 'unsigned' => [['unsigned' => true], 'proves nothing'];
        yield 'signed by somebody else' => [['foreign_key' => true], 'not valid'];
        yield 'a provider that says it is another' => [['issuer' => 'https://gate.example'], 'another issuer than the one that is set here'];
    }

    /**
     * @param  array<string, mixed>  $faults
     */
    #[DataProvider('forgeries')]
    public function test_a_token_that_proves_nothing_lets_nobody_in(array $faults, string $sentence): void
    {
        $this->faults('gatehouse', $faults);
        $trouble = $this->come('edda')->assertRedirect('/sign-in')->getSession()->get('trouble');
        self::assertStringContainsString($sentence, (string) $trouble);
        $this->assertGuest();
        self::assertSame(0, User::query()->count());
    }

    public function test_a_return_that_was_not_begun_here_or_comes_twice_is_refused(): void
    {
        $this->get('/sign-in/provider/return?code=x&state=y')->assertRedirect('/sign-in')->assertSessionHas('trouble');
        $this->come('edda', static fn (array $answer): array => ['state' => 'another'] + $answer)->assertRedirect('/sign-in');
        $this->come('edda', static fn (array $answer): array => ['iss' => 'https://gate.example'] + $answer)->assertRedirect('/sign-in');
        $this->assertGuest();
        $kept = [];
        $this->come('edda', static function (array $answer) use (&$kept): array {
            return $kept = $answer;
        })->assertRedirect('/');
        $this->post('/sign-out');
        $this->get('/sign-in/provider/return?'.http_build_query($kept))->assertRedirect('/sign-in');
        $this->assertGuest();
        self::assertStringContainsString('access_denied', (string) $this->come('')->getSession()->get('trouble'));
        $this->configure(['client_secret' => 'wrong']);
        self::assertStringContainsString('invalid_client', (string) $this->come('edda')->getSession()->get('trouble'));
        $this->configure(['issuer' => 'http://127.0.0.1:1/gatehouse']);
        self::assertStringContainsString('cannot be reached', (string) $this->come('edda')->getSession()->get('trouble'));
    }
}
