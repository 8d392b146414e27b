<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\Exchange;
use App\Models\RunState;
use App\Models\Source;
use App\Models\StoredToken;
use App\Models\Tryout;
use App\Pipeline\SourceConnections;
use App\Runs\Tries;
use App\Secrets\Vault;
use App\Transport\Limits;
use GuzzleHttp\Psr7\Request;
use Illuminate\Support\Carbon;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Core\Access\Keys;

/**
 * Every scheme against a stand-in, end to end, and the life of a token.
 */
final class TokensTest extends AppTestCase
{
    protected function tearDown(): void
    {
        foreach (['loans-desk', 'box-office', 'doors'] as $name) {
            $this->faults($name, []);
        }
        parent::tearDown();
    }

    private function tryIt(Source $source): Tryout
    {
        return app(Tries::class)->source($source, $source->current(), $this->trial(), null);
    }

    /**
     * @return iterable<string, array{string, list<array<string, mixed>>, array<string, string>}>
     */
    public static function schemes(): iterable
    {
        $key = ['key' => 'dr-demo-2b9f61c07ae4d853'];
        $s = static fn (string $name): array => ['secret' => $name];
        $login = static fn (array $take, array $send, string $as = 'json'): array => ['scheme' => 'login', 'request' => ['path' => '/session', 'body' => ['as' => $as, 'of' => ['user' => 'keeper', 'password' => $s('password')]]], 'take' => $take, 'send' => $send];
        $password = ['password' => 'open-the-sluice-9'];
        yield 'none' => ['/doors/open', [['scheme' => 'none']], []];
        yield 'basic' => ['/doors/basic', [['scheme' => 'basic', 'username' => 'keeper', 'password' => $s('key')]], $key];
        yield 'key in a header' => ['/doors/key', [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Door-Key', 'value' => $s('key')]], $key];
        yield 'key with a prefix' => ['/doors/bearer', [['scheme' => 'api-key', 'in' => 'header', 'name' => 'Authorization', 'prefix' => 'Bearer ', 'value' => $s('key')]], $key];
        yield 'bearer' => ['/doors/bearer', [['scheme' => 'bearer', 'token' => $s('key')]], $key];
        yield 'basic and a key' => ['/freight-tracker/v3/ping', [['scheme' => 'basic', 'username' => 'circle-desk', 'password' => $s('password')], ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Freight-Key', 'value' => $s('key')]], ['password' => 'tide-and-rope-22', 'key' => 'ft-demo-8a1c55d0b7e23f2a']];
        yield 'two headers, one key' => ['/stores/v1/positions', [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Stores-Key', 'value' => $s('key')], ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Stores-Reader', 'value' => $s('key')]], ['key' => 'st-demo-0b8e5c71f9a2d446']];
        yield 'client credentials' => ['/loans-desk/v2/loans', [['scheme' => 'oauth2-client-credentials', 'token_url' => 'HERE/loans-desk/oauth/token', 'client_id' => 'circle-desk', 'client_secret' => $s('secret'), 'scope' => 'loans.read loans.write']], ['secret' => 'ld-secret-4f0c2a77b1e9d358']];
        yield 'refresh token' => ['/doors/with-token', [['scheme' => 'oauth2-refresh-token', 'token_url' => 'HERE/doors/oauth/token', 'client_id' => 'circle-desk', 'refresh_token' => $s('refresh')]], ['refresh' => 'dr-refresh-5c1e77a0d9b2f346']];
        yield 'sign-in, JSON to header' => ['/doors/inside', [$login(['json' => '$.session.token'], ['in' => 'header', 'name' => 'X-Session'])], $password];
        yield 'sign-in, header to query' => ['/doors/inside', [$login(['header' => 'X-Session'], ['in' => 'query', 'name' => 'session'], 'form')], $password];
        yield 'sign-in, cookie to cookie' => ['/doors/inside', [$login(['cookie' => 'door'], ['in' => 'cookie', 'name' => 'door'])], $password];
    }

    /**
     * @param  list<array<string, mixed>>  $access
     * @param  array<string, string>  $secrets
     */
    #[DataProvider('schemes')]
    public function test_a_scheme_opens_its_door(string $path, array $access, array $secrets): void
    {
        $access = json_decode(str_replace('HERE', self::$standinsAddress, (string) json_encode($access, JSON_UNESCAPED_SLASHES)), true);
        $base = self::$standinsAddress.dirname($path);
        $source = $this->draft($base, $access, [['slug' => 'x', 'name' => 'X', 'ask' => ['path' => '/'.basename($path)]]], ['test' => ['endpoint' => 'x']]);
        foreach ($secrets as $name => $value) {
            app(Vault::class)->put($source, $this->trial(), $name, $value, null);
        }
        $try = $this->tryIt($source);
        self::assertTrue($try->succeeded, (string) json_encode($try->diagnosis));
        foreach ([...$try->exchanges, ...$try->tokenExchanges()->get()] as $exchange) {
            foreach ($secrets as $value) {
                self::assertStringNotContainsString($value, $exchange->request.$exchange->headers.$exchange->text());
            }
        }
        if ($secrets !== []) {
            // With a wrong secret the same door stays shut, and access is blamed.
            app(Vault::class)->put($source, $this->trial(), (string) array_key_last($secrets), 'wrong-one', null);
            $try = $this->tryIt($source);
            self::assertSame([false, 'access'], [$try->succeeded, $try->diagnosis['where'] ?? null], (string) json_encode($try->diagnosis));
        }
    }

    /**
     * @return iterable<string, array{string}>
     */
    public static function algorithms(): iterable
    {
        yield 'RS256' => ['RS256'];
        yield 'ES256' => ['ES256'];
        yield 'EdDSA' => ['EdDSA'];
    }

    #[DataProvider('algorithms')]
    public function test_a_signed_assertion_opens_its_door(string $algorithm): void
    {
        [$private, $public] = Keys::pair($algorithm);
        $this->tell('/doors/oauth/keys/'.strtolower($algorithm), $public);
        $source = $this->draft(self::$standinsAddress.'/doors', [['scheme' => 'jwt-assertion', 'token_url' => self::$standinsAddress.'/doors/oauth/token', 'key' => ['secret' => 'key'], 'key_id' => strtolower($algorithm), 'algorithm' => $algorithm, 'issuer' => 'circle-desk']], [['slug' => 'x', 'name' => 'X', 'ask' => ['path' => '/with-token']]], ['test' => ['endpoint' => 'x']]);
        app(Vault::class)->put($source, $this->trial(), 'key', $private, null);
        $try = $this->tryIt($source);
        self::assertTrue($try->succeeded, (string) json_encode($try->diagnosis));
        self::assertStringContainsString('assertion=••••••', (string) $try->tokenExchanges()->first()?->request);
        app(Vault::class)->put($source, $this->trial(), 'key', Keys::pair($algorithm)[0], null);
        self::assertSame('token-assertion', $this->tryIt($source)->diagnosis['code'] ?? null);
    }

    public function test_a_write_carries_a_token_against_forgery_and_gets_a_new_one_when_it_ended(): void
    {
        $source = $this->draft(self::$standinsAddress.'/doors', [['scheme' => 'csrf-token', 'fetch' => ['path' => '/ledger'], 'header' => 'X-CSRF-Token']]);
        $write = function () use ($source): ?int {
            $definition = $source->current()->source();
            $reading = app(SourceConnections::class)->open($source, $definition, $this->trial());
            $scheme = $definition->access('trial')[0];
            $secrets = (fn () => $this->secrets)->call($reading);

            return $reading->send(static fn (): Request => $scheme->apply(new Request('POST', self::$standinsAddress.'/doors/ledger'), $secrets), new Limits(5, 1, 65536))->status;
        };
        self::assertSame(201, $write());
        self::assertSame(1, StoredToken::query()->firstOrFail()->asked);
        self::assertSame(201, $write());
        self::assertSame(1, StoredToken::query()->firstOrFail()->asked, 'kept');
        $this->faults('doors', ['withdrawn_before' => microtime(true)]);
        self::assertSame(201, $write());
        self::assertSame(2, StoredToken::query()->firstOrFail()->asked, 'one new token, one repeat');
    }

    public function test_a_token_is_kept_sealed_and_used_until_a_minute_before_its_end(): void
    {
        $source = $this->source();
        self::assertTrue($this->tryIt($source)->succeeded);
        self::assertTrue($this->tryIt($source)->succeeded);
        $row = StoredToken::query()->firstOrFail();
        self::assertSame([1, 'loans.read loans.write'], [$row->asked, $row->scope]);
        self::assertStringNotContainsString('access', (string) base64_decode($row->sealed));
        self::assertEqualsWithDelta(600, $row->expires_at?->getTimestamp() - time(), 5);
        Carbon::setTestNow();
        $row->forceFill(['sealed' => app(Vault::class)->seal((string) json_encode(['value' => 'x', 'obtainedAt' => time() - 560, 'expiresAt' => time() + 40]))])->save();
        self::assertTrue($this->tryIt($source)->succeeded);
        self::assertSame(2, StoredToken::query()->firstOrFail()->asked);
    }

    public function test_a_401_with_a_kept_token_brings_one_new_token_and_one_repeat(): void
    {
        $source = $this->source();
        $this->tryIt($source);
        $this->faults('loans-desk', ['withdrawn_before' => microtime(true)]);
        $try = $this->tryIt($source);
        self::assertTrue($try->succeeded, (string) json_encode($try->diagnosis));
        self::assertSame([200, 200, 200], $try->exchanges->pluck('status')->all());
        self::assertSame(['refused' => 401, 'token' => 200], $try->tokenExchanges()->pluck('status', 'purpose')->all());
        $this->actingAs($this->person())->get('/sources/loans-desk')->assertSee('Refused, and sent once more with a new token');
        $this->get('/sources/loans-desk/endpoints/loans')->assertSee('50 records in the first answer');
        self::assertSame(2, StoredToken::query()->firstOrFail()->asked);

        // A service that refuses the new one too is asked no further.
        $this->faults('loans-desk', ['withdrawn_before' => microtime(true) + 600]);
        $try = $this->tryIt($source);
        self::assertSame([[401], ['refused' => 401, 'token' => 200]], [$try->exchanges->pluck('status')->all(), $try->tokenExchanges()->pluck('status', 'purpose')->all()]);
        self::assertSame([3, 'access'], [StoredToken::query()->firstOrFail()->asked, $try->diagnosis['where'] ?? null]);
    }

    public function test_a_token_that_ends_in_the_middle_of_a_run_is_replaced(): void
    {
        $source = $this->source('loans-desk', ['size: 50' => 'size: 10', '{name: expand, in: query, fixed: items}' => '{name: slow, in: query, fixed: 15}']);
        $this->faults('loans-desk', ['token_seconds' => 1]);
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Done, 1200], [$run->state, $run->records], (string) json_encode($run->diagnosis));
        self::assertGreaterThan(1, StoredToken::query()->firstOrFail()->asked);
    }

    public function test_a_refresh_token_that_is_replaced_is_kept_with_its_access_token(): void
    {
        $this->faults('doors', ['token_seconds' => 2]);
        $source = $this->draft(self::$standinsAddress.'/doors', [['scheme' => 'oauth2-refresh-token', 'token_url' => self::$standinsAddress.'/doors/oauth/token', 'client_id' => 'circle-desk', 'refresh_token' => ['secret' => 'refresh']]], [['slug' => 'x', 'name' => 'X', 'ask' => ['path' => '/with-token']]], ['test' => ['endpoint' => 'x']]);
        app(Vault::class)->put($source, $this->trial(), 'refresh', $this->freshRefreshToken(), null);
        for ($round = 1; $round <= 3; $round++) {
            $try = $this->tryIt($source);
            self::assertTrue($try->succeeded, "round $round: ".json_encode($try->diagnosis));
            $this->travel(2)->seconds();
        }
        self::assertGreaterThanOrEqual(3, StoredToken::query()->firstOrFail()->asked, 'each refresh token is good once, and each was the newest');
    }

    /**
     * A refresh token of the doors, made as the stand-in makes it.
     */
    private function freshRefreshToken(): string
    {
        $data = rtrim(strtr(base64_encode((string) json_encode(['kind' => 'refresh', 'scope' => 'doors', 'made' => microtime(true), 'until' => microtime(true) + 600, 'no' => bin2hex(random_bytes(6))])), '+/', '-_'), '=');

        return $data.'.'.substr(hash_hmac('sha256', $data, 'desk of doors'), 0, 24);
    }

    public function test_ten_workers_at_once_ask_for_one_token(): void
    {
        $source = $this->source();
        $this->source('stores');
        $processes = [];
        foreach (range(1, 10) as $number) {
            $processes[] = proc_open([PHP_BINARY, '-d', 'opcache.enable_cli=0', base_path('artisan'), 'spring:try', 'loans-desk/loans'], [['file', '/dev/null', 'r'], ['pipe', 'w'], ['pipe', 'w']], $pipes[$number], base_path(), ['APP_ENV' => 'testing', 'DB_SCHEMA' => 'deep_spring_test', 'CACHE_STORE' => 'array', 'LOG_CHANNEL' => 'file'] + getenv());
        }
        foreach ($processes as $index => $process) {
            $said = stream_get_contents($pipes[$index + 1][1]).stream_get_contents($pipes[$index + 1][2]);
            self::assertIsResource($process);
            self::assertSame(0, proc_close($process), (string) $said);
        }
        self::assertSame(10, Tryout::query()->where('source_id', $source->id)->where('succeeded', true)->count());
        self::assertSame(1, StoredToken::query()->where('source_id', $source->id)->firstOrFail()->asked);
        self::assertSame(1, Exchange::query()->where('purpose', 'token')->count());
    }

    public function test_a_worker_that_dies_while_it_asks_holds_nobody_up(): void
    {
        $source = $this->source();
        $this->faults('loans-desk', ['token_seconds' => 600]);
        $slow = ['{variable: token_url}' => '"'.self::$standinsAddress.'/loans-desk/oauth/token?slow=30000"'];
        $dying = $this->source('loans-desk', $slow);
        $process = proc_open([PHP_BINARY, base_path('artisan'), 'spring:try', 'loans-desk/loans'], [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']], $pipes, base_path(), ['APP_ENV' => 'testing', 'DB_SCHEMA' => 'deep_spring_test', 'CACHE_STORE' => 'array', 'LOG_CHANNEL' => 'file'] + getenv());
        self::assertIsResource($process);
        self::assertTrue(Sockets::await(proc_get_status($process)['pid'], self::$standinsAddress), 'it asks');
        posix_kill(proc_get_status($process)['pid'], SIGKILL);
        proc_close($process);
        $dying->refresh();
        $from = microtime(true);
        self::assertTrue($this->tryIt($this->source())->succeeded);
        self::assertLessThan(20, microtime(true) - $from);
        self::assertSame($source->id, $dying->id);
    }

    public function test_a_client_refused_in_one_place_is_tried_in_the_other_and_the_repair_is_offered(): void
    {
        $source = $this->source('loans-desk', ['scope: loans.read loans.write}' => 'scope: loans.read, credentials_in: body}']);
        $try = $this->tryIt($source);
        self::assertSame('token-client-place', $try->diagnosis['code'] ?? null, (string) json_encode($try->diagnosis));
        self::assertSame([401, 200], $try->tokenExchanges()->pluck('status')->all());
        $this->actingAs($this->person())->get('/sources/loans-desk')->assertSee('Send them in the header and test');
        $this->post("/tries/$try->id/repair/0", ['sheet' => 'source'])->assertStatus(303);
        self::assertTrue(Tryout::query()->latest('id')->firstOrFail()->succeeded);
        self::assertSame('header', $source->refresh()->current()->document['source']['access'][0]['credentials_in']);
    }

    public function test_errors_of_the_token_endpoint_reach_the_person(): void
    {
        $try = $this->tryIt($this->source('loans-desk', ['scope: loans.read loans.write}' => 'scope: loans.all}']));
        self::assertSame('token-scope', $try->diagnosis['code'] ?? null);
        self::assertStringContainsString('You ask for: loans.all', $try->diagnosis['advice'] ?? '');
        app(Vault::class)->put(Source::query()->firstOrFail(), $this->trial(), 'client_secret', 'wrong', null);
        self::assertSame('token-client', $this->tryIt($this->source('loans-desk', [], false))->diagnosis['code'] ?? null);
        $try = $this->tryIt($this->source('loans-desk', ['{variable: token_url}' => '"'.self::$standinsAddress.'/doors/website"']));
        self::assertSame('token-not-json', $try->diagnosis['code'] ?? null);
        $this->faults('loans-desk', ['no_expiry' => true]);
        self::assertTrue($this->tryIt($this->source())->succeeded, 'a token without expires_in is used');
        self::assertNull(StoredToken::query()->latest('id')->firstOrFail()->expires_at);
    }
}
