<?php

declare(strict_types=1);

namespace StandIns\Gatehouse;

use StandIns\Desk;
use StandIns\Faults;
use StandIns\Request;
use StandIns\Response;
use StandIns\StandIn;

/**
 * Says who somebody of the circle is: an OpenID provider with the authorization code flow and PKCE. It
 * asks for no password; whoever comes picks who they are.
 */
final readonly class Gatehouse implements StandIn
{
    private const CLIENT = 'deep-spring';

    private const SECRET = 'gh-secret-7b1e50d2c94fa836';

    private const PEOPLE = [
        'edda' => ['name' => 'Edda Marsh', 'email' => 'edda@saltmarsh.example', 'email_verified' => true, 'groups' => ['circle-desk']],
        'joris' => ['name' => 'Joris Quay', 'email' => 'joris@saltmarsh.example', 'email_verified' => true, 'groups' => ['circle-admins', 'circle-readers']],
        'maren' => ['name' => 'Maren Osk', 'email' => 'maren@saltmarsh.example', 'email_verified' => true, 'groups' => ['circle-admins']],
        'nobody' => ['name' => 'Without Groups', 'email' => 'without@saltmarsh.example', 'email_verified' => true, 'groups' => []],
        'unproven' => ['name' => 'Ines Varga', 'email' => 'ines@saltmarsh.example', 'email_verified' => false, 'groups' => ['circle-desk']],
    ];

    public function __construct(private Desk $desk, private Faults $faults)
    {
    }

    public function answer(Request $request): Response
    {
        return match (true) {
            $request->path === '/.well-known/openid-configuration' => $this->metadata(),
            $request->path === '/keys' => Response::json(['keys' => [$this->publicKey()]]),
            $request->path === '/authorize' => $request->method === 'POST' ? $this->decided($request) : $this->page($request),
            $request->path === '/token' && $request->method === 'POST' => $this->token($request),
            default => Response::json(['error' => 'not_found'], 404),
        };
    }

    /**
     * OpenID Connect Discovery 1.0 §3.
     */
    private function metadata(): Response
    {
        $issuer = self::issuer();

        return Response::json([
            'issuer' => $this->faults->setting('issuer') ?? $issuer, 'authorization_endpoint' => "$issuer/authorize", 'token_endpoint' => "$issuer/token", 'jwks_uri' => "$issuer/keys",
            'response_types_supported' => ['code'], 'subject_types_supported' => ['public'], 'id_token_signing_alg_values_supported' => ['RS256'],
            'scopes_supported' => ['openid', 'email', 'profile'], 'code_challenge_methods_supported' => ['S256'],
        ]);
    }

    private function page(Request $request): Response
    {
        $e = static fn (string $text): string => htmlspecialchars($text, ENT_QUOTES);
        $fields = '';
        foreach (['client_id', 'redirect_uri', 'state', 'nonce', 'code_challenge'] as $name) {
            $fields .= '<input type="hidden" name="'.$name.'" value="'.$e($request->query[$name] ?? '').'">';
        }
        $buttons = '';
        foreach (self::PEOPLE as $id => $person) {
            $buttons .= "<p><button id=\"$id\" name=\"who\" value=\"$id\">{$e($person['name'])}</button></p>";
        }

        return Response::html("<!doctype html><html lang=\"en\"><head><meta charset=\"utf-8\"><title>Gatehouse</title></head><body><h1>Gatehouse of the Saltmarsh Circle</h1><p>Who are you?</p><form method=\"post\">$fields$buttons<p><button id=\"deny\" name=\"who\" value=\"\">Leave</button></p></form></body></html>");
    }

    private function decided(Request $request): Response
    {
        $form = array_map(static fn (mixed $value): string => is_string($value) ? $value : '', $request->form());
        $who = $form['who'] ?? '';
        if (($form['client_id'] ?? '') !== self::CLIENT || preg_match('~^http://127\.0\.0\.1:\d+/sign-in/provider/return$~D', $form['redirect_uri'] ?? '') !== 1) {
            return Response::html('<h1>This application is not known here</h1>', 400);
        }
        $answer = isset(self::PEOPLE[$who])
            ? ['code' => $this->desk->make('code', (string) json_encode(['who' => $who, 'nonce' => $form['nonce'] ?? '', 'challenge' => $form['code_challenge'] ?? '', 'redirect' => $form['redirect_uri']]), 60), 'iss' => self::issuer()]
            : ['error' => 'access_denied', 'error_description' => 'Somebody left the gatehouse'];

        return new Response(302, ['Location' => $form['redirect_uri'].'?'.http_build_query($answer + ['state' => $form['state'] ?? ''])], '');
    }

    private function token(Request $request): Response
    {
        $form = array_map(static fn (mixed $value): string => is_string($value) ? $value : '', $request->form());
        [$id, $secret] = Desk::client($request, $form);
        if ($id !== self::CLIENT || $secret !== self::SECRET) {
            return Desk::error('invalid_client', 'The client is not known, or its secret is wrong.', 401);
        }
        $code = $form['code'] ?? '';
        $says = json_decode((string) $this->desk->scopeOf($code, 'code'), true);
        $challenge = rtrim(strtr(base64_encode(hash('sha256', $form['code_verifier'] ?? '', true)), '+/', '-_'), '=');
        if (! is_array($says) || ! hash_equals($says['challenge'], $challenge) || $says['redirect'] !== ($form['redirect_uri'] ?? '') || ! $this->desk->spend($code)) {
            return Desk::error('invalid_grant', 'The code is not valid, was used, or belongs to another sign-in.');
        }

        return Response::json(['access_token' => $this->desk->make('access', 'openid', 300), 'token_type' => 'Bearer', 'expires_in' => 300, 'id_token' => $this->idToken($says['who'], $says['nonce'])], 200, ['Cache-Control' => 'no-store']);
    }

    private function idToken(string $who, string $nonce): string
    {
        $claims = ['iss' => self::issuer(), 'sub' => "gh-$who", 'aud' => self::CLIENT, 'iat' => time(), 'exp' => time() + 300, 'nonce' => $nonce] + self::PEOPLE[$who];
        $claims = (array) ($this->faults->setting('claims') ?? []) + $claims;
        $header = ['alg' => 'RS256', 'typ' => 'JWT', 'kid' => 'gate-1'];
        if ($this->faults->setting('unsigned') === true) {
            return self::part(['alg' => 'none'] + $header).'.'.self::part($claims).'.';
        }
        $signed = self::part($header).'.'.self::part($claims);
        $key = $this->faults->setting('foreign_key') === true ? openssl_pkey_new(['private_key_bits' => 2048]) : $this->key();
        openssl_sign($signed, $signature, $key === false ? $this->key() : $key, OPENSSL_ALGO_SHA256);

        return $signed.'.'.rtrim(strtr(base64_encode($signature), '+/', '-_'), '=');
    }

    /**
     * @return array<string, string> RFC 7517
     */
    private function publicKey(): array
    {
        $details = openssl_pkey_get_details($this->key());
        $encoded = static fn (string $bytes): string => rtrim(strtr(base64_encode($bytes), '+/', '-_'), '=');

        return ['kty' => 'RSA', 'use' => 'sig', 'alg' => 'RS256', 'kid' => 'gate-1', 'n' => $encoded($details['rsa']['n'] ?? ''), 'e' => $encoded($details['rsa']['e'] ?? '')];
    }

    /**
     * Made at the first use, and kept beside what else is noted.
     */
    private function key(): \OpenSSLAsymmetricKey
    {
        $pem = $this->desk->change(static function (array $state): array {
            if (! isset($state['key'])) {
                $new = openssl_pkey_new(['private_key_bits' => 2048, 'private_key_type' => OPENSSL_KEYTYPE_RSA]);
                openssl_pkey_export($new ?: throw new \RuntimeException('No key can be made.'), $state['key']);
            }

            return [$state, $state['key']];
        });

        return openssl_pkey_get_private((string) $pem) ?: throw new \RuntimeException('The key cannot be read.');
    }

    private static function issuer(): string
    {
        return Request::origin().'/gatehouse';
    }

    /**
     * @param  array<string, mixed>  $content
     */
    private static function part(array $content): string
    {
        return rtrim(strtr(base64_encode((string) json_encode($content, JSON_UNESCAPED_SLASHES)), '+/', '-_'), '=');
    }
}
