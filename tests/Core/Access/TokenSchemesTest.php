<?php

declare(strict_types=1);

namespace Tests\Core\Access;

use DeepSpring\Access\AccessToken;
use DeepSpring\Access\Additions;
use DeepSpring\Access\ConsentMissing;
use DeepSpring\Access\GivenSecrets;
use DeepSpring\Access\OAuth\AuthorizationCode;
use DeepSpring\Access\OAuth\ClientCredentials;
use DeepSpring\Access\OAuth\Discovery;
use DeepSpring\Access\OAuth\JwtAssertion;
use DeepSpring\Access\Schemes;
use DeepSpring\Access\SecuresConnection;
use DeepSpring\Access\TokenAnswer;
use DeepSpring\Access\TokenRefused;
use DeepSpring\Access\TokenScheme;
use DeepSpring\Access\UnusableSecret;
use DeepSpring\SourceFile\SourceFile;
use Firebase\JWT\JWT;
use Firebase\JWT\Key;
use GuzzleHttp\Psr7\Request;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

/**
 * One suite that every scheme passes, and tables for those that ask for tokens.
 */
final class TokenSchemesTest extends TestCase
{
    private const NOW = 1_893_456_000;

    private const SECRETS = ['id' => 'id:with&odd', 'secret' => 's3cret/with+odd=&chars', 'key' => 'kk-112233445566', 'refresh' => 'rr-998877665544', 'user' => 'keeper-name', 'password' => 'open "the" sluice', 'pem' => 'replaced', 'certificate' => 'replaced'];

    public function test_only_the_consent_of_one_person_is_personal(): void
    {
        $urls = ['token_url' => 'https://x.example/token', 'client_id' => 'desk'];
        $code = ['scheme' => 'oauth2-authorization-code', 'authorize_url' => 'https://x.example/authorize'] + $urls;
        foreach ([
            [['scheme' => 'oauth2-client-credentials', 'client_secret' => ['secret' => 's']] + $urls, false],
            [['scheme' => 'oauth2-refresh-token', 'refresh_token' => ['secret' => 'r']] + $urls, false],
            [['scheme' => 'csrf-token', 'fetch' => ['path' => '/']], false],
            [['scheme' => 'login', 'request' => ['path' => '/in'], 'take' => ['json' => '$.t'], 'send' => ['in' => 'header', 'name' => 'x']], false],
            [$code, false], [['shared' => true] + $code, false], [['shared' => false] + $code, true],
        ] as [$entry, $isPersonal]) {
            $scheme = Schemes::all([$entry], 'https://x.example')[0];
            self::assertInstanceOf(TokenScheme::class, $scheme);
            self::assertSame($isPersonal, $scheme->isPersonal(), (string) json_encode($entry));
        }
    }

    /**
     * @return iterable<string, array{array<string, mixed>}>
     */
    public static function schemes(): iterable
    {
        $s = static fn (string $name): array => ['secret' => $name];
        $url = 'https://loans.saltmarsh.example/oauth/token';
        yield 'basic' => [['scheme' => 'basic', 'username' => $s('user'), 'password' => $s('password')]];
        yield 'key in a header' => [['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-Key', 'value' => $s('key'), 'prefix' => 'K ']];
        yield 'key in the query' => [['scheme' => 'api-key', 'in' => 'query', 'name' => 'key', 'value' => $s('key')]];
        yield 'key in a cookie' => [['scheme' => 'api-key', 'in' => 'cookie', 'name' => 'key', 'value' => $s('key')]];
        yield 'bearer' => [['scheme' => 'bearer', 'token' => $s('key')]];
        yield 'client credentials' => [['scheme' => 'oauth2-client-credentials', 'token_url' => $url, 'client_id' => $s('id'), 'client_secret' => $s('secret'), 'scope' => 'a b', 'audience' => 'c', 'extra' => ['resource' => 'd']]];
        yield 'client credentials in the body' => [['scheme' => 'oauth2-client-credentials', 'token_url' => $url, 'client_id' => $s('id'), 'client_secret' => $s('secret'), 'credentials_in' => 'body']];
        yield 'authorization code' => [['scheme' => 'oauth2-authorization-code', 'authorize_url' => $url, 'token_url' => $url, 'client_id' => 'desk', 'client_secret' => $s('secret')]];
        yield 'authorization code, public' => [['scheme' => 'oauth2-authorization-code', 'authorize_url' => $url, 'token_url' => $url, 'client_id' => 'desk', 'shared' => false]];
        yield 'refresh token' => [['scheme' => 'oauth2-refresh-token', 'token_url' => $url, 'client_id' => 'desk', 'refresh_token' => $s('refresh')]];
        yield 'assertion' => [['scheme' => 'jwt-assertion', 'token_url' => $url, 'key' => $s('pem'), 'algorithm' => 'RS256', 'issuer' => 'desk']];
        yield 'login' => [['scheme' => 'login', 'request' => ['path' => '/session', 'body' => ['as' => 'json', 'of' => ['user' => $s('user'), 'password' => $s('password'), 'kind' => 'desk']]], 'take' => ['json' => '$.token'], 'send' => ['in' => 'header', 'name' => 'X-Session']]];
        yield 'login with a cookie' => [['scheme' => 'login', 'request' => ['path' => '/session', 'method' => 'POST', 'body' => ['as' => 'form', 'of' => ['user' => $s('user')]]], 'take' => ['cookie' => 'sid'], 'send' => ['in' => 'cookie', 'name' => 'sid'], 'lifetime' => 60]];
        yield 'login into the query' => [['scheme' => 'login', 'request' => ['path' => '/session'], 'take' => ['header' => 'X-T'], 'send' => ['in' => 'query', 'name' => 't']]];
        yield 'csrf' => [['scheme' => 'csrf-token', 'fetch' => ['path' => '/ledger'], 'header' => 'X-CSRF-Token']];
        yield 'certificate' => [['scheme' => 'client-certificate', 'certificate' => $s('certificate'), 'key' => $s('pem')]];
    }

    /**
     * @param  array<string, mixed>  $entry
     */
    #[DataProvider('schemes')]
    public function test_every_scheme_keeps_to_the_contract(array $entry): void
    {
        $file = SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 's', 'name' => 'S', 'environments' => ['trial' => ['base' => 'https://a.example/v1']], 'access' => [$entry]], 'endpoints' => []]);
        $scheme = Schemes::all([$entry], 'https://a.example/v1')[0];
        $secrets = new GivenSecrets(self::SECRETS, token: new AccessToken('tt-abcdefabcdef', self::NOW, cookies: ['desk' => 'cc-123456123456']));

        self::assertSame($file->secretNames(), array_values(array_unique($scheme->secretNames())), 'it names the secrets that the document names');
        self::assertNotSame('', $scheme->label());
        $method = $scheme instanceof TokenScheme && ! $scheme->isFor('GET') ? 'POST' : 'GET';
        $bare = new Request($method, 'https://a.example/v1/x?a=1');
        $request = $scheme->apply($bare, $secrets);
        self::assertSame([$method, 'a.example', '/v1/x'], [$request->getMethod(), $request->getUri()->getHost(), $request->getUri()->getPath()]);
        self::assertStringStartsWith('a=1', $request->getUri()->getQuery());
        $changed = array_values(array_diff(array_map(strtolower(...), array_keys($request->getHeaders())), array_map(strtolower(...), array_keys($bare->getHeaders()))));
        self::assertSame($scheme->header() !== null, in_array($scheme->header(), $changed, true), 'it says which header it sets');

        $shown = implode("\n", array_merge(...array_values(Additions::of([$scheme], 'https://a.example/v1'))));
        self::assertNotSame('', $shown);
        foreach (self::SECRETS as $value) {
            self::assertStringNotContainsString($value, $shown);
        }
        if (! $scheme instanceof SecuresConnection) {
            self::assertStringContainsString('••••••', $shown);
        }
        self::assertEquals($request, $scheme->apply($bare, $secrets), 'the same twice');
        if ($scheme instanceof TokenScheme) {
            self::assertSame($scheme->id(), Schemes::all([$entry], 'https://a.example/v1')[0] instanceof TokenScheme ? Schemes::all([$entry], 'https://a.example/v1')[0]->id() : '');
            self::assertStringNotContainsString(self::SECRETS['secret'], $scheme->id());
        }
    }

    public function test_schemes_are_applied_in_order_and_two_headers_can_carry_one_key(): void
    {
        $schemes = Schemes::all([['scheme' => 'none'], ['scheme' => 'basic', 'username' => 'desk', 'password' => ['secret' => 'password']], ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-A', 'value' => ['secret' => 'key']], ['scheme' => 'api-key', 'in' => 'header', 'name' => 'X-B', 'value' => ['secret' => 'key']]]);
        self::assertSame([1, 2, 3], array_keys($schemes));
        $request = new Request('GET', 'https://a.example/');
        foreach ($schemes as $scheme) {
            $request = $scheme->apply($request, new GivenSecrets(self::SECRETS));
        }
        self::assertSame(['Basic '.base64_encode('desk:open "the" sluice'), 'kk-112233445566', 'kk-112233445566'], [$request->getHeaderLine('authorization'), $request->getHeaderLine('x-a'), $request->getHeaderLine('x-b')]);
    }

    public function test_a_client_says_who_it_is_in_the_header_or_in_the_body(): void
    {
        $entry = ['scheme' => 'oauth2-client-credentials', 'token_url' => 'https://a.example/token?tenant=1', 'client_id' => ['secret' => 'id'], 'client_secret' => ['secret' => 'secret'], 'scope' => 'a b', 'extra' => ['resource' => 'd e']];
        $header = (new ClientCredentials($entry))->tokenRequest(new GivenSecrets(self::SECRETS), null, self::NOW);
        self::assertSame(['POST', 'https://a.example/token?tenant=1', 'grant_type=client_credentials&scope=a+b&resource=d+e'], [$header->getMethod(), (string) $header->getUri(), (string) $header->getBody()]);
        self::assertSame('Basic '.base64_encode('id%3Awith%26odd:s3cret%2Fwith%2Bodd%3D%26chars'), $header->getHeaderLine('authorization'), 'RFC 6749 §2.3.1: form-encoded first');
        $body = (new ClientCredentials($entry))->elsewhere()->tokenRequest(new GivenSecrets(self::SECRETS), null, self::NOW);
        parse_str((string) $body->getBody(), $form);
        self::assertSame(['', 'id:with&odd', self::SECRETS['secret']], [$body->getHeaderLine('authorization'), $form['client_id'], $form['client_secret']]);
        self::assertSame((new ClientCredentials($entry))->id(), (new ClientCredentials($entry))->elsewhere()->id(), 'the place does not make another token');
    }

    /**
     * @return iterable<string, array{int, string, array<string, string>, array{string, int|null, string|null, string|null}|string}>
     */
    public static function answers(): iterable
    {
        $json = ['content-type' => 'application/json'];
        yield 'as the RFC has it' => [200, '{"access_token":"t1","token_type":"Bearer","expires_in":600,"refresh_token":"r1","scope":"a"}', $json, ['t1', self::NOW + 600, 'r1', 'a']];
        yield 'without an end' => [200, '{"access_token":"t1"}', $json, ['t1', null, 'old', 'asked']];
        yield 'an end as text' => [200, '{"access_token":"t1","expires_in":"600"}', $json, ['t1', self::NOW + 600, 'old', 'asked']];
        yield 'a negative end' => [200, '{"access_token":"t1","expires_in":-5}', $json, ['t1', self::NOW, 'old', 'asked']];
        yield 'as a form' => [200, 'access_token=t1&expires_in=60', ['content-type' => 'application/x-www-form-urlencoded'], ['t1', self::NOW + 60, 'old', 'asked']];
        yield 'refused' => [401, '{"error":"invalid_client","error_description":"No."}', $json, 'invalid_client'];
        yield 'an error with 200' => [200, '{"error":"invalid_grant"}', $json, 'invalid_grant'];
        yield 'an error of another shape' => [400, '{"error":{"code":"bad_things","message":"Oh"}}', $json, 'bad_things'];
        yield 'a page' => [200, '<html></html>', ['content-type' => 'text/html'], 'not-json'];
        yield 'no token in it' => [200, '{"token":"t1"}', $json, 'no-token'];
        yield 'a token that is none' => [200, '{"access_token":null}', $json, 'no-token'];
        yield 'not there' => [404, '<html></html>', [], 'status'];
        yield 'broken' => [500, '', [], 'status'];
    }

    /**
     * @param  array<string, string>  $headers
     * @param  array{string, int|null, string|null, string|null}|string  $wanted
     */
    #[DataProvider('answers')]
    public function test_an_answer_of_a_token_endpoint_is_read(int $status, string $body, array $headers, array|string $wanted): void
    {
        $scheme = new ClientCredentials(['scheme' => 'oauth2-client-credentials', 'token_url' => 'https://a.example/', 'client_id' => 'i', 'client_secret' => 's', 'scope' => 'asked']);
        try {
            $token = $scheme->read(new TokenAnswer($status, $headers, $body), new AccessToken('t0', 1, 2, 'old'), self::NOW);
            self::assertSame($wanted, [$token->value, $token->expiresAt, $token->refresh, $token->scope]);
        } catch (TokenRefused $refused) {
            self::assertSame($wanted, $refused->error);
            self::assertSame($status, $refused->status);
        }
    }

    public function test_a_token_is_replaced_a_minute_before_its_end(): void
    {
        $token = new AccessToken('t', self::NOW, self::NOW + 600);
        self::assertSame([true, true, false, false], array_map(static fn (int $after): bool => $token->isFresh(self::NOW + $after), [0, 539, 540, 700]));
        $short = new AccessToken('t', self::NOW, self::NOW + 10);
        self::assertSame([true, false], [$short->isFresh(self::NOW + 4), $short->isFresh(self::NOW + 5)], 'a short one after half its life');
        self::assertTrue((new AccessToken('t', self::NOW))->isFresh(self::NOW + 10 ** 9), 'one without an end until it is refused');
        self::assertFalse((new AccessToken('t', self::NOW))->spent()->isFresh(self::NOW));
        self::assertEquals($token, AccessToken::fromArray($token->toArray()));
    }

    public function test_refreshing_uses_the_newest_refresh_token(): void
    {
        $scheme = Schemes::all([['scheme' => 'oauth2-refresh-token', 'token_url' => 'https://a.example/t', 'client_id' => 'desk', 'refresh_token' => ['secret' => 'refresh']]])[0];
        self::assertInstanceOf(TokenScheme::class, $scheme);
        $form = static function (?AccessToken $old) use ($scheme): array {
            parse_str((string) $scheme->tokenRequest(new GivenSecrets(self::SECRETS), $old, self::NOW)->getBody(), $form);

            return $form;
        };
        self::assertSame(['grant_type' => 'refresh_token', 'refresh_token' => 'rr-998877665544', 'client_id' => 'desk'], $form(null));
        self::assertSame('r2', $form(new AccessToken('t', 1, 2, 'r2'))['refresh_token']);
    }

    public function test_consent_is_needed_once_and_exchanged_with_the_verifier(): void
    {
        $scheme = new AuthorizationCode(['scheme' => 'oauth2-authorization-code', 'authorize_url' => 'https://a.example/a', 'token_url' => 'https://a.example/t', 'client_id' => 'desk', 'client_secret' => ['secret' => 'secret'], 'revoke_url' => 'https://a.example/r', 'credentials_in' => 'body']);
        $secrets = new GivenSecrets(self::SECRETS);
        parse_str((string) $scheme->exchange('the-code', 'http://127.0.0.1:8400/consent/return', 'the-verifier', $secrets)->getBody(), $form);
        self::assertSame(['grant_type' => 'authorization_code', 'code' => 'the-code', 'redirect_uri' => 'http://127.0.0.1:8400/consent/return', 'code_verifier' => 'the-verifier', 'client_id' => 'desk', 'client_secret' => self::SECRETS['secret']], $form);
        $revocation = $scheme->revocation(new AccessToken('t', 1, null, 'r'), $secrets);
        self::assertNotNull($revocation);
        parse_str((string) $revocation->getBody(), $form);
        self::assertSame(['https://a.example/r', 'r', 'refresh_token'], [(string) $revocation->getUri(), $form['token'], $form['token_type_hint']]);
        foreach ([null, new AccessToken('t', 1, 2)] as $old) {
            try {
                $scheme->tokenRequest($secrets, $old, self::NOW);
                self::fail('Without a refresh token nothing can be asked.');
            } catch (ConsentMissing $missing) {
                self::assertStringContainsString($old === null ? 'Nobody has agreed' : 'has ended', $missing->getMessage());
            }
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
    public function test_an_assertion_is_signed_so_that_others_can_check_it(string $algorithm): void
    {
        [$private, $public] = Keys::pair($algorithm);
        $scheme = new JwtAssertion(['scheme' => 'jwt-assertion', 'token_url' => 'https://a.example/t', 'key' => ['secret' => 'pem'], 'algorithm' => $algorithm, 'issuer' => 'desk', 'audience' => 'https://a.example', 'scope' => 'a', 'key_id' => 'k1', 'lifetime' => 120]);
        $now = time();
        parse_str((string) $scheme->tokenRequest(new GivenSecrets(['pem' => str_replace("\n", '\n', $private)]), null, $now)->getBody(), $form);
        self::assertSame('urn:ietf:params:oauth:grant-type:jwt-bearer', $form['grant_type']);
        $key = $algorithm === 'EdDSA' ? base64_encode(substr((string) base64_decode((string) preg_replace('/-----[^-]+-----|\s/', '', $public), true), -32)) : $public;
        $claims = (array) JWT::decode((string) $form['assertion'], ['k1' => new Key($key, $algorithm)]);
        self::assertSame(['desk', 'desk', 'https://a.example', $now, $now + 120, 'a'], [$claims['iss'], $claims['sub'], $claims['aud'], $claims['iat'], $claims['exp'], $claims['scope']]);
        self::assertMatchesRegularExpression('/^[0-9a-f]{32}$/', $claims['jti']);
    }

    public function test_a_key_of_another_kind_is_said(): void
    {
        [$rsa] = Keys::pair('RS256');
        foreach (['ES256' => $rsa, 'EdDSA' => $rsa, 'RS256' => 'not a key'] as $algorithm => $pem) {
            try {
                (new JwtAssertion(['scheme' => 'jwt-assertion', 'token_url' => 'https://a.example/t', 'key' => ['secret' => 'pem'], 'algorithm' => $algorithm, 'issuer' => 'desk']))->tokenRequest(new GivenSecrets(['pem' => $pem]), null, self::NOW);
                self::fail("$algorithm took it.");
            } catch (UnusableSecret $unusable) {
                self::assertStringContainsString("cannot sign with $algorithm", $unusable->getMessage());
                self::assertStringNotContainsString('MII', $unusable->getMessage());
            }
        }
    }

    public function test_a_sign_in_sends_its_fields_and_takes_what_comes_back(): void
    {
        $of = static fn (array $more): TokenScheme => Schemes::all([$more + ['scheme' => 'login', 'request' => ['path' => 'session', 'body' => ['as' => 'json', 'of' => ['user' => ['secret' => 'user'], 'password' => ['secret' => 'password']]]], 'send' => ['in' => 'header', 'name' => 'X-S', 'prefix' => 'S ']]], 'https://a.example/v1/')[0];
        $answer = new TokenAnswer(201, ['x-s' => 'from-header', 'set-cookie' => 'a=1; Expires=Thu, 01 Jan 2032 00:00:00 GMT; Path=/, sid=from-cookie; HttpOnly'], '{"session":{"token":"from-body"}}');
        foreach (['from-body' => ['json' => '$.session.token'], 'from-header' => ['header' => 'X-S'], 'from-cookie' => ['cookie' => 'sid']] as $value => $take) {
            $scheme = $of(['take' => $take, 'lifetime' => 60]);
            $request = $scheme->tokenRequest(new GivenSecrets(self::SECRETS), null, self::NOW);
            self::assertSame(['POST', 'https://a.example/v1/session', '{"user":"keeper-name","password":"open \"the\" sluice"}'], [$request->getMethod(), (string) $request->getUri(), (string) $request->getBody()]);
            $token = $scheme->read($answer, null, self::NOW);
            self::assertSame([$value, self::NOW + 60], [$token->value, $token->expiresAt]);
            self::assertSame("S $value", $scheme->apply(new Request('GET', '/'), new GivenSecrets([], token: $token))->getHeaderLine('x-s'));
        }
        $this->expectException(TokenRefused::class);
        $of(['take' => ['json' => '$.nowhere']])->read($answer, null, self::NOW);
    }

    public function test_a_token_against_forgery_goes_with_writes_and_its_cookies(): void
    {
        $schemes = Schemes::all([['scheme' => 'bearer', 'token' => ['secret' => 'key']], ['scheme' => 'csrf-token', 'fetch' => ['path' => '/ledger', 'method' => 'HEAD']]], 'https://a.example/v1');
        $csrf = $schemes[1];
        self::assertInstanceOf(TokenScheme::class, $csrf);
        $fetch = $csrf->tokenRequest(new GivenSecrets(self::SECRETS), null, self::NOW);
        self::assertSame(['HEAD', 'https://a.example/v1/ledger', 'Fetch', 'Bearer kk-112233445566'], [$fetch->getMethod(), (string) $fetch->getUri(), $fetch->getHeaderLine('x-csrf-token'), $fetch->getHeaderLine('authorization')]);
        $token = $csrf->read(new TokenAnswer(200, ['x-csrf-token' => 'forge-me-not', 'set-cookie' => 'desk=7; Path=/'], ''), null, self::NOW);
        $secrets = new GivenSecrets(self::SECRETS, token: $token);
        $write = $csrf->apply(new Request('POST', 'https://a.example/v1/ledger', ['cookie' => 'a=1']), $secrets);
        self::assertSame(['forge-me-not', 'a=1; desk=7'], [$write->getHeaderLine('x-csrf-token'), $write->getHeaderLine('cookie')]);
        self::assertSame('', $csrf->apply(new Request('GET', 'https://a.example/'), $secrets)->getHeaderLine('x-csrf-token'));
        $this->expectException(TokenRefused::class);
        $csrf->read(new TokenAnswer(403, ['x-csrf-token' => 'Required'], ''), null, self::NOW);
    }

    public function test_an_issuer_is_looked_up_where_both_standards_put_it_and_must_be_itself(): void
    {
        self::assertSame(['https://a.example/.well-known/oauth-authorization-server/desk', 'https://a.example/desk/.well-known/openid-configuration', 'https://a.example/desk/.well-known/oauth-authorization-server'], Discovery::places('https://a.example/desk/'));
        self::assertSame(['https://a.example/.well-known/oauth-authorization-server', 'https://a.example/.well-known/openid-configuration'], Discovery::places('https://a.example/.well-known/openid-configuration'));
        $document = '{"issuer":"https://a.example/desk","authorization_endpoint":"https://a.example/a","token_endpoint":"https://a.example/t","revocation_endpoint":"javascript:x","token_endpoint_auth_methods_supported":["client_secret_post"]}';
        self::assertSame(['authorize_url' => 'https://a.example/a', 'token_url' => 'https://a.example/t', 'credentials_in' => 'body'], Discovery::read($document, 'https://a.example/desk/'));
        foreach ([['https://b.example/desk', $document], ['https://a.example/desk', '[]'], ['https://a.example/desk', 'no']] as [$issuer, $body]) {
            self::assertNull(Discovery::read($body, $issuer));
        }
    }
}
