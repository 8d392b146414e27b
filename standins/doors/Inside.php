<?php

declare(strict_types=1);

namespace StandIns\Doors;

use StandIns\Desk;
use StandIns\Request;
use StandIns\Response;

/**
 * Doors that open for those who come the right way: signed in, with a token against forgery, with
 * a refresh token, with a signed assertion.
 */
final readonly class Inside
{
    private const PASSWORD = 'open-the-sluice-9';

    public function __construct(private Desk $desk)
    {
    }

    public function answer(Request $request): ?Response
    {
        return match (true) {
            $request->path === '/session' && $request->method === 'POST' => $this->session($request),
            $request->path === '/inside' => $this->inside($request),
            $request->path === '/ledger' => $this->ledger($request),
            $request->path === '/oauth/token' && $request->method === 'POST' => $this->token($request),
            preg_match('~^/oauth/keys/([a-z0-9-]{1,40})$~D', $request->path, $part) === 1 && $request->method === 'PUT' => $this->register($part[1], $request->body),
            $request->path === '/with-token' => $this->withToken($request),
            default => null,
        };
    }

    private function session(Request $request): Response
    {
        $sent = json_decode($request->body, true) ?? $request->form();
        if (($sent['user'] ?? '') !== 'keeper' || ($sent['password'] ?? '') !== self::PASSWORD) {
            return Response::json(['message' => 'User or password is wrong.'], 401);
        }
        $token = $this->desk->make('session', 'inside', 600);

        return Response::json(['session' => ['token' => $token]], 201, ['X-Session' => $token, 'Set-Cookie' => "door=$token; Path=/; HttpOnly"]);
    }

    private function inside(Request $request): Response
    {
        preg_match('/(?:^|;\s*)door=([^;]+)/', $request->headers['cookie'] ?? '', $cookie);
        foreach ([$request->headers['x-session'] ?? '', $cookie[1] ?? '', $request->query['session'] ?? ''] as $token) {
            if ($token !== '' && $this->desk->scopeOf($token, 'session') !== null) {
                return Response::json(['data' => [['id' => 1, 'room' => 'engine']]]);
            }
        }

        return Response::json(['message' => 'Sign in first.'], 401);
    }

    /**
     * Reading hands out a token against forgery to those who ask for it; writing needs it and its cookie.
     */
    private function ledger(Request $request): Response
    {
        if ($request->method === 'GET' || $request->method === 'HEAD') {
            if (strcasecmp($request->headers['x-csrf-token'] ?? '', 'fetch') !== 0) {
                return Response::json(['entries' => []]);
            }
            $token = $this->desk->make('csrf', 'ledger', 60);

            return Response::json(['entries' => []], 200, ['X-CSRF-Token' => $token, 'Set-Cookie' => 'desk='.substr(hash('sha256', $token), 0, 16).'; Path=/']);
        }
        $token = $request->headers['x-csrf-token'] ?? '';
        $right = $this->desk->scopeOf($token, 'csrf') !== null && str_contains($request->headers['cookie'] ?? '', 'desk='.substr(hash('sha256', $token), 0, 16));

        return $right ? Response::json(['written' => true], 201) : Response::json(['message' => 'CSRF token validation failed'], 403, ['X-CSRF-Token' => 'Required']);
    }

    private function token(Request $request): Response
    {
        $form = $request->form();

        return match ($form['grant_type'] ?? '') {
            'refresh_token' => $this->refresh($request, $form),
            'urn:ietf:params:oauth:grant-type:jwt-bearer' => $this->assertion((string) ($form['assertion'] ?? '')),
            default => Desk::error('unsupported_grant_type', 'refresh_token and jwt-bearer are offered.'),
        };
    }

    /**
     * The first refresh token is on the page of documentation; each is good once.
     *
     * @param  array<array-key, mixed>  $form
     */
    private function refresh(Request $request, array $form): Response
    {
        [$id] = Desk::client($request, $form);
        $token = (string) ($form['refresh_token'] ?? '');
        $scope = $token === 'dr-refresh-5c1e77a0d9b2f346' ? 'doors' : $this->desk->scopeOf($token, 'refresh');

        return $id === 'circle-desk' && $scope !== null && $this->desk->spend($token) ? $this->desk->tokens($scope, true) : Desk::error('invalid_grant', 'This refresh token is not valid, or was used before.');
    }

    private function register(string $name, string $pem): Response
    {
        $this->desk->change(static fn (array $state): array => [['keys' => [$name => $pem] + ($state['keys'] ?? [])] + $state, null]);

        return Response::json(['key' => $name], 201);
    }

    /**
     * RFC 7523 §3, with RS256, ES256 (RFC 7518 §3.3, §3.4) and EdDSA (RFC 8037 §3.1).
     */
    private function assertion(string $jwt): Response
    {
        $decode = static fn (string $part): string => (string) base64_decode(strtr($part, '-_', '+/'), true);
        $parts = explode('.', $jwt);
        if (count($parts) !== 3) {
            return Desk::error('invalid_grant', 'The assertion is no JWT.');
        }
        $head = (array) json_decode($decode($parts[0]), true);
        $claims = (array) json_decode($decode($parts[1]), true);
        $pem = (string) ($this->desk->state()['keys'][$head['kid'] ?? ''] ?? '');
        $signed = "$parts[0].$parts[1]";
        $signature = $decode($parts[2]);
        $right = match ($head['alg'] ?? '') {
            'RS256' => openssl_verify($signed, $signature, $pem, OPENSSL_ALGO_SHA256) === 1,
            'ES256' => strlen($signature) === 64 && openssl_verify($signed, $this->der($signature), $pem, OPENSSL_ALGO_SHA256) === 1,
            'EdDSA' => strlen($signature) === 64 && sodium_crypto_sign_verify_detached($signature, $signed, substr((string) base64_decode((string) preg_replace('/-----[^-]+-----|\s/', '', $pem), true), -32) ?: str_repeat('0', 32)),
            default => false,
        };

        return match (true) {
            ! $right => Desk::error('invalid_grant', 'The signature is not that of a registered key.'),
            ($claims['exp'] ?? 0) < time() || ($claims['iat'] ?? 0) > time() + 60 => Desk::error('invalid_grant', 'The assertion has ended, or its clock is wrong.'),
            ($claims['iss'] ?? '') !== 'circle-desk' || ! isset($claims['sub'], $claims['aud'], $claims['jti']) => Desk::error('invalid_grant', 'Unknown issuer, or a claim is missing.'),
            default => $this->desk->tokens('doors', false),
        };
    }

    private function withToken(Request $request): Response
    {
        $token = preg_match('/^Bearer (\S+)$/D', $request->headers['authorization'] ?? '', $part) === 1 ? $part[1] : '';

        return $this->desk->scopeOf($token) === null ? Response::json(['message' => 'No entry.'], 401, ['WWW-Authenticate' => 'Bearer']) : Response::json(['data' => [['id' => 1]]]);
    }

    /**
     * R and S side by side → what OpenSSL wants.
     */
    private function der(string $signature): string
    {
        $integer = static function (string $bytes): string {
            $bytes = ltrim($bytes, "\0");
            $bytes = $bytes === '' || ord($bytes[0]) > 127 ? "\0$bytes" : $bytes;

            return "\x02".chr(strlen($bytes)).$bytes;
        };
        $both = $integer(substr($signature, 0, 32)).$integer(substr($signature, 32));

        return "\x30".chr(strlen($both)).$both;
    }
}
