<?php

declare(strict_types=1);

namespace Tests\App;

use GuzzleHttp\Client;
use PHPUnit\Framework\Attributes\DataProvider;
use Psr\Http\Message\ResponseInterface;

/**
 * The simulated services keep to their own documentation, so that what is tried against them is
 * tried against something that behaves.
 */
final class StandInsTest extends AppTestCase
{
    private function ask(string $method, string $path, array $options = []): ResponseInterface
    {
        return (new Client(['base_uri' => self::$standinsAddress, 'http_errors' => false, 'allow_redirects' => false]))->request($method, $path, $options);
    }

    /**
     * @return array<array-key, mixed>
     */
    private function decoded(ResponseInterface $response): array
    {
        return (array) json_decode((string) $response->getBody(), true);
    }

    /**
     * @return iterable<string, array{string, list<string>}>
     */
    public static function services(): iterable
    {
        yield 'loans desk' => ['loans-desk', ['client credentials', 'loans.read', 'ld-secret-4f0c2a77b1e9d358', 'Retry-After']];
        yield 'stores' => ['stores', ['X-Stores-Key', 'X-Stores-Reader']];
        yield 'box office' => ['box-office', ['PKCE', 'tickets.read', 'redirect address']];
        yield 'freight tracker' => ['freight-tracker', ['key of your contract', 'Basic', 'XML']];
        yield 'doors' => ['doors', ['/gzip-absent', '/nested', 'X-CSRF-Token', 'tls.php']];
    }

    /**
     * @param  list<string>  $says
     */
    #[DataProvider('services')]
    public function test_a_service_has_a_page_of_documentation(string $name, array $says): void
    {
        $page = $this->ask('GET', "/$name/");
        self::assertSame(200, $page->getStatusCode());
        foreach ($says as $text) {
            self::assertStringContainsString($text, (string) $page->getBody());
        }
        self::assertStringContainsString("/$name/", (string) $this->ask('GET', '/')->getBody());
    }

    public function test_a_token_of_the_loans_desk_opens_what_its_scope_says(): void
    {
        $token = function (string $scope, array $auth = ['circle-desk', 'ld-secret-4f0c2a77b1e9d358']): ResponseInterface {
            return $this->ask('POST', '/loans-desk/oauth/token', ['auth' => $auth, 'form_params' => ['grant_type' => 'client_credentials', 'scope' => $scope]]);
        };
        $read = $this->decoded($token('loans.read'));
        self::assertSame(['Bearer', 600, 'loans.read'], [$read['token_type'], $read['expires_in'], $read['scope']]);
        self::assertSame(200, $this->ask('GET', '/loans-desk/v2/loans', ['headers' => ['authorization' => "Bearer {$read['access_token']}"]])->getStatusCode());
        $write = $this->decoded($token('loans.write'));
        $denied = $this->ask('GET', '/loans-desk/v2/loans', ['headers' => ['authorization' => "Bearer {$write['access_token']}"]]);
        self::assertSame([403, true], [$denied->getStatusCode(), str_contains($denied->getHeaderLine('www-authenticate'), 'insufficient_scope')]);
        foreach (['loans.all' => [400, 'invalid_scope'], 'loans.read' => [401, 'invalid_client']] as $scope => [$status, $error]) {
            $refused = $token($scope, $status === 401 ? ['circle-desk', 'no'] : ['circle-desk', 'ld-secret-4f0c2a77b1e9d358']);
            self::assertSame([$status, $error], [$refused->getStatusCode(), $this->decoded($refused)['error']]);
        }
        $body = $this->ask('POST', '/loans-desk/oauth/token', ['form_params' => ['grant_type' => 'client_credentials', 'client_id' => 'circle-desk', 'client_secret' => 'ld-secret-4f0c2a77b1e9d358']]);
        self::assertSame(401, $body->getStatusCode(), 'in the header only');
        self::assertSame(401, $this->ask('GET', '/loans-desk/v2/loans', ['headers' => ['authorization' => "Bearer {$read['access_token']}x"]])->getStatusCode(), 'a token that was tampered with');
    }

    public function test_the_box_office_describes_itself_and_keeps_to_oauth(): void
    {
        $metadata = $this->decoded($this->ask('GET', '/.well-known/oauth-authorization-server/box-office'));
        self::assertSame(self::$standinsAddress.'/box-office', $metadata['issuer']);
        self::assertSame($metadata, $this->decoded($this->ask('GET', '/box-office/.well-known/oauth-authorization-server')));

        $verifier = str_repeat('v', 50);
        $challenge = rtrim(strtr(base64_encode(hash('sha256', $verifier, true)), '+/', '-_'), '=');
        $asked = ['response_type' => 'code', 'client_id' => 'deep-spring', 'redirect_uri' => 'http://127.0.0.1:8400/consent/return', 'state' => 's1', 'scope' => 'tickets.read', 'code_challenge' => $challenge, 'code_challenge_method' => 'S256'];
        $page = (string) $this->ask('GET', '/box-office/oauth/authorize', ['query' => $asked])->getBody();
        self::assertStringContainsString('See how many tickets were sold', $page);
        foreach ([['redirect_uri' => 'https://evil.example/'], ['client_id' => 'somebody']] as $wrong) {
            $refused = $this->ask('GET', '/box-office/oauth/authorize', ['query' => $wrong + $asked]);
            self::assertSame([400, ''], [$refused->getStatusCode(), $refused->getHeaderLine('location')], 'not sent back to an address that is not registered');
        }
        $code = function (array $more = []) use ($asked): string {
            parse_str((string) parse_url($this->ask('POST', '/box-office/oauth/authorize', ['form_params' => $more + $asked + ['decision' => 'allow']])->getHeaderLine('location'), PHP_URL_QUERY), $back);
            self::assertSame('s1', $back['state']);

            return (string) ($back['code'] ?? $back['error']);
        };
        self::assertSame('invalid_scope', $code(['scope' => 'everything']));
        $exchange = fn (string $code, string $verifier, string $redirect = 'http://127.0.0.1:8400/consent/return'): array => $this->decoded($this->ask('POST', '/box-office/oauth/token', ['auth' => ['deep-spring', 'bo-secret-1d77c0a94be2f683'], 'form_params' => ['grant_type' => 'authorization_code', 'code' => $code, 'redirect_uri' => $redirect, 'code_verifier' => $verifier]]));
        self::assertSame('invalid_grant', $exchange($code(), 'another')['error']);
        self::assertSame('invalid_grant', $exchange($code(), $verifier, 'http://127.0.0.1:1/consent/return')['error']);
        $once = $code();
        $tokens = $exchange($once, $verifier);
        self::assertArrayHasKey('access_token', $tokens);
        self::assertSame('invalid_grant', $exchange($once, $verifier)['error'], 'a code is good once');
        $refresh = fn (string $token): array => $this->decoded($this->ask('POST', '/box-office/oauth/token', ['auth' => ['deep-spring', 'bo-secret-1d77c0a94be2f683'], 'form_params' => ['grant_type' => 'refresh_token', 'refresh_token' => $token]]));
        $next = $refresh($tokens['refresh_token']);
        self::assertNotSame($tokens['refresh_token'], $next['refresh_token']);
        self::assertSame('invalid_grant', $refresh($tokens['refresh_token'])['error'], 'a refresh token is good once');
        self::assertArrayHasKey('access_token', $refresh($next['refresh_token']));
        self::assertSame('invalid_grant', $refresh($tokens['access_token'])['error'], 'an access token is no refresh token');
    }

    public function test_the_freight_tracker_wants_both_and_has_its_moods(): void
    {
        $both = ['auth' => ['circle-desk', 'tide-and-rope-22'], 'headers' => ['x-freight-key' => 'ft-demo-8a1c55d0b7e23f2a']];
        self::assertSame(200, $this->ask('GET', '/freight-tracker/v3/ping', $both)->getStatusCode());
        foreach ([['auth' => $both['auth']], ['headers' => $both['headers']], []] as $half) {
            self::assertSame(401, $this->ask('GET', '/freight-tracker/v3/ping', $half)->getStatusCode());
        }
        $statuses = [];
        foreach ([70412, 70035 - 70035 % 97 + 97, 1] as $number) {
            $statuses[] = $this->ask('GET', "/freight-tracker/v3/consignments/$number", $both)->getStatusCode();
        }
        self::assertSame([200, 503, 404], $statuses);
        $xml = $this->ask('GET', '/freight-tracker/v3/consignments/70412', ['headers' => $both['headers'] + ['accept' => 'application/xml'], 'auth' => $both['auth']]);
        self::assertSame('70412', (string) simplexml_load_string((string) $xml->getBody())['number']);
    }
}
