<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Consent;
use App\Models\Source;
use App\Models\StoredToken;
use App\Models\Tryout;
use App\Runs\Tries;
use GuzzleHttp\Client;
use Illuminate\Support\Carbon;
use Illuminate\Testing\TestResponse;

final class ConsentTest extends AppTestCase
{
    protected function setUp(): void
    {
        parent::setUp();
        // The redirect address that the stand-in knows as registered.
        config(['app.url' => 'http://127.0.0.1:8400']);
    }

    protected function tearDown(): void
    {
        $this->faults('box-office', []);
        parent::tearDown();
    }

    /**
     * @return array{string, array<string, string>} the consent page, and what it was asked
     */
    private function begin(string $from = '/sources/box-office'): array
    {
        $address = (string) $this->post('/sources/box-office/consent', ['scheme' => '0'], ['HX-Request' => 'true', 'HX-Current-URL' => "http://127.0.0.1:8400$from"])->assertStatus(204)->headers->get('HX-Redirect');
        parse_str((string) parse_url($address, PHP_URL_QUERY), $asked);

        return [$address, array_map(strval(...), $asked)];
    }

    /**
     * A person at the box office: where they are sent back to.
     *
     * @param  array<string, string>  $asked
     */
    private function decide(string $address, array $asked, string $decision): string
    {
        $response = (new Client(['http_errors' => false, 'allow_redirects' => false]))->post(strtok($address, '?') ?: '', ['form_params' => $asked + ['decision' => $decision]]);

        return (string) preg_replace('~^http://127\.0\.0\.1:8400~', '', $response->getHeaderLine('location'));
    }

    private function agree(string $from = '/sources/box-office'): TestResponse
    {
        [$address, $asked] = $this->begin($from);

        return $this->get($this->decide($address, $asked, 'allow'));
    }

    private function test(?\App\Models\User $by = null): Tryout
    {
        $source = Source::query()->where('slug', 'box-office')->firstOrFail();

        return app(Tries::class)->source($source, $source->current(), $this->trial(), $by);
    }

    public function test_a_person_agrees_and_the_source_works(): void
    {
        $this->source('box-office');
        $this->actingAs($this->person());
        self::assertSame('consent', $this->test()->diagnosis['code'] ?? null);
        $this->get('/sources/box-office')->assertSee('http://127.0.0.1:8400/consent/return')->assertSee('Nobody has agreed yet');
        [$address, $asked] = $this->begin('/sources/box-office/endpoints/tickets');
        self::assertSame(['code', 'deep-spring', 'http://127.0.0.1:8400/consent/return', 'tickets.read', 'S256'], [$asked['response_type'], $asked['client_id'], $asked['redirect_uri'], $asked['scope'], $asked['code_challenge_method']]);
        self::assertGreaterThanOrEqual(32, strlen($asked['state']));
        $back = $this->decide($address, $asked, 'allow');
        $this->get($back)->assertRedirect('/sources/box-office/endpoints/tickets');
        $try = $this->test();
        self::assertTrue($try->succeeded, (string) json_encode($try->diagnosis));
        self::assertSame([0, true], [StoredToken::query()->firstOrFail()->person, StoredToken::query()->firstOrFail()->renewable]);
        $this->get('/sources/box-office')->assertSee('consent given')->assertSee('renews itself');
        self::assertSame(0, Consent::query()->count(), 'a state is good once');
        $this->get($back)->assertRedirect('/sources')->assertSessionHas('trouble');
        self::assertSame(1095, $this->refresh(Source::query()->firstOrFail(), 'tickets')->rows);
    }

    public function test_a_decline_is_said_and_changes_nothing(): void
    {
        $this->source('box-office');
        $this->actingAs($this->person());
        [$address, $asked] = $this->begin();
        $this->get($this->decide($address, $asked, 'deny'))->assertRedirect('/sources/box-office');
        $this->get('/sources/box-office')->assertSee('The sign-in was declined at the service.');
        self::assertSame(0, StoredToken::query()->count());
    }

    public function test_a_state_belongs_to_the_person_who_began_and_ends(): void
    {
        $this->source('box-office');
        $this->actingAs($this->person());
        [$address, $asked] = $this->begin();
        $back = $this->decide($address, $asked, 'allow');
        foreach (['/consent/return?code=x', '/consent/return?code=x&state=guessed', '/consent/return?state[]=x'] as $forged) {
            $this->get($forged)->assertRedirect('/sources');
        }
        $this->actingAs($this->person())->get($back)->assertRedirect('/sources')->assertSessionHas('trouble');
        self::assertSame(0, StoredToken::query()->count(), 'nobody else finishes it');
        Consent::query()->update(['created_at' => Carbon::now()->subMinutes(16)]);
        $this->actingAs(\App\Models\User::query()->firstOrFail())->get($back)->assertSessionHas('trouble');
        self::assertSame(0, StoredToken::query()->count(), 'nor after a quarter of an hour');
    }

    public function test_a_code_is_worth_nothing_without_the_verifier(): void
    {
        $this->source('box-office');
        $this->actingAs($this->person());
        [$address, $asked] = $this->begin();
        $back = $this->decide($address, $asked, 'allow');
        Consent::query()->update(['verifier' => app(\App\Secrets\Vault::class)->seal('another-verifier-another-verifier-another-ver')]);
        $this->get($back);
        $this->get('/sources/box-office')->assertSee('code_verifier does not belong');
        self::assertSame(0, StoredToken::query()->count());
    }

    public function test_refresh_tokens_are_replaced_as_they_are_used(): void
    {
        $this->faults('box-office', ['token_seconds' => 2]);
        $this->source('box-office');
        $this->actingAs($this->person());
        $this->agree();
        foreach ([1, 2] as $round) {
            $this->travel(2)->seconds();
            self::assertTrue($this->test()->succeeded, "round $round");
        }
        $asked = StoredToken::query()->firstOrFail()->asked;
        self::assertGreaterThanOrEqual(3, $asked);
        // A new client secret keeps the consent, and renews the token with it.
        app(\App\Secrets\Vault::class)->put(Source::query()->firstOrFail(), $this->trial(), 'client_secret', 'bo-secret-1d77c0a94be2f683', null);
        self::assertTrue($this->test()->succeeded);
        self::assertGreaterThan($asked, StoredToken::query()->firstOrFail()->asked);
    }

    public function test_consent_of_each_person_is_for_them_alone_and_not_for_what_runs_by_itself(): void
    {
        $source = $this->source('box-office', ['      scope: tickets.read' => "      scope: tickets.read\n      shared: false"]);
        $ines = $this->person();
        $this->actingAs($ines);
        $this->agree();
        self::assertTrue($this->test($ines)->succeeded);
        self::assertSame($ines->id, StoredToken::query()->firstOrFail()->person);
        self::assertSame('consent', $this->test($this->person())->diagnosis['code'] ?? null, 'another person');
        self::assertStringContainsString('needs one consent for all', $this->test()->diagnosis['what'] ?? '', 'nobody');
        $run = $this->refresh($source, 'tickets');
        self::assertStringContainsString('needs one consent for all', $run->diagnosis['what'] ?? '');
    }

    public function test_forgetting_tells_the_service_first(): void
    {
        $this->source('box-office');
        $this->actingAs($this->person());
        $this->agree();
        $row = StoredToken::query()->firstOrFail();
        $refresh = app(\App\Access\TokenStore::class)->token($row)?->refresh;
        $this->post('/sources/box-office/consent/forget', ['scheme' => '0'])->assertRedirect('/sources/box-office');
        self::assertSame(0, StoredToken::query()->count());
        $answer = (new Client(['http_errors' => false]))->post(self::$standinsAddress.'/box-office/oauth/token', ['auth' => ['deep-spring', 'bo-secret-1d77c0a94be2f683'], 'form_params' => ['grant_type' => 'refresh_token', 'refresh_token' => $refresh]]);
        self::assertStringContainsString('invalid_grant', (string) $answer->getBody(), 'the refresh token is dead at the service');
        self::assertSame('consent', $this->test()->diagnosis['code'] ?? null);
    }

    public function test_a_consent_that_was_withdrawn_at_the_service_is_explained(): void
    {
        $this->source('box-office');
        $this->actingAs($this->person());
        $this->agree();
        $this->faults('box-office', ['withdrawn_before' => microtime(true)]);
        $try = $this->test();
        self::assertSame('token-grant', $try->diagnosis['code'] ?? null, (string) json_encode($try->diagnosis));
        self::assertStringContainsString('Sign in at the service again', $try->diagnosis['advice'] ?? '');
    }

    public function test_addresses_are_found_from_the_issuer(): void
    {
        $source = $this->draft(self::$standinsAddress.'/box-office/v1', [['scheme' => 'oauth2-authorization-code', 'authorize_url' => 'https://to.be.found/', 'token_url' => 'https://to.be.found/', 'client_id' => 'deep-spring']]);
        $this->actingAs($this->person());
        $issuer = self::$standinsAddress.'/box-office';
        $this->post('/sources/here/discover', ['scheme' => '0', 'access' => [['issuer' => $issuer]]])->assertOk();
        $entry = $source->refresh()->current()->document['source']['access'][0];
        self::assertSame(["$issuer/oauth/authorize", "$issuer/oauth/token", "$issuer/oauth/revoke", $issuer], [$entry['authorize_url'], $entry['token_url'], $entry['revoke_url'], $entry['issuer']]);
        $this->source('box-office');
        $this->post('/sources/box-office/discover', ['scheme' => '0', 'issuer' => '{issuer}'])->assertOk()->assertDontSee('describes its addresses');
        self::assertSame(['variable' => 'issuer'], Source::query()->where('slug', 'box-office')->firstOrFail()->current()->document['source']['access'][0]['issuer']);
        $this->post('/sources/here/discover', ['scheme' => '0', 'issuer' => self::$standinsAddress.'/stores'])->assertSee('describes its addresses');
        $this->post('/sources/here/discover', ['scheme' => '0', 'issuer' => 'http://169.254.169.254'])->assertSee('describes its addresses');
    }
}
