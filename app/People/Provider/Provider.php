<?php

declare(strict_types=1);

namespace App\People\Provider;

use App\Transport\Limits;
use App\Transport\Transport;
use DeepSpring\Access\SecretMask;
use Firebase\JWT\JWK;
use Firebase\JWT\JWT;
use GuzzleHttp\Psr7\Request;
use Illuminate\Contracts\Cache\Repository;

/**
 * Sign-in through an OpenID provider (OpenID Connect Core 1.0 §3.1, authorization code flow with PKCE,
 * RFC 7636). Where it is set up by the settings of the installation, `config/spring.php` says.
 */
final readonly class Provider
{
    private const SECONDS = 600;

    /** Algorithms of signatures that are taken: none that anybody could make. */
    private const ALGORITHMS = ['RS256', 'RS384', 'RS512', 'ES256', 'ES384', 'PS256', 'EdDSA'];

    /**
     * @param  array{issuer?: string|null, client_id?: string|null, client_secret?: string|null, scope?: string|null, only?: bool}  $settings
     */
    public function __construct(private Transport $transport, private Repository $cache, private array $settings)
    {
    }

    public function isSetUp(): bool
    {
        return ($this->settings['issuer'] ?? '') !== '' && ($this->settings['client_id'] ?? '') !== '';
    }

    /**
     * Whether there is no other way in; links to choose a password lead nowhere then.
     */
    public function isOnlyWay(): bool
    {
        return $this->isSetUp() && ($this->settings['only'] ?? false) === true;
    }

    /**
     * @return array{string, array{state: string, nonce: string, verifier: string}} the address to go to, and what has to be remembered until the return
     *
     * @throws ProviderRefused
     */
    public function begin(string $redirect): array
    {
        $remember = ['state' => self::random(), 'nonce' => self::random(), 'verifier' => self::random(48)];
        $challenge = self::base64Url(hash('sha256', $remember['verifier'], true));
        $query = [
            'response_type' => 'code', 'client_id' => $this->settings['client_id'], 'redirect_uri' => $redirect,
            'scope' => $this->settings['scope'] ?? 'openid email profile', 'state' => $remember['state'], 'nonce' => $remember['nonce'],
            'code_challenge' => $challenge, 'code_challenge_method' => 'S256',
        ];
        $address = $this->discovered('authorization_endpoint');

        return [$address.(str_contains($address, '?') ? '&' : '?').http_build_query($query, '', '&', PHP_QUERY_RFC3986), $remember];
    }

    /**
     * @param  array<string, mixed>  $came  what the provider sent back with the person
     * @param  array<string, mixed>  $remembered
     * @return array<string, mixed> claims of the ID token, checked
     *
     * @throws ProviderRefused
     */
    public function finish(#[\SensitiveParameter] array $came, array $remembered, string $redirect): array
    {
        if (! is_string($came['state'] ?? null) || ! is_string($remembered['state'] ?? null) || ! hash_equals($remembered['state'], $came['state'])) {
            throw ProviderRefused::because('This sign-in was not begun here, or it was begun again in another tab. Start it again.');
        }
        if (! is_string($came['code'] ?? null)) {
            throw ProviderRefused::because('The provider let nobody in: '.self::said($came).'.');
        }
        // RFC 9207: where the provider says who it is, it has to be the one that was asked.
        if (isset($came['iss']) && $came['iss'] !== $this->settings['issuer']) {
            throw ProviderRefused::because('The answer came from another provider than the one that was asked.');
        }
        $token = $this->token($came['code'], (string) $remembered['verifier'], $redirect);

        return $this->checked($token, (string) $remembered['nonce']);
    }

    /**
     * @throws ProviderRefused
     */
    private function token(#[\SensitiveParameter] string $code, #[\SensitiveParameter] string $verifier, string $redirect): string
    {
        $fields = ['grant_type' => 'authorization_code', 'code' => $code, 'redirect_uri' => $redirect, 'code_verifier' => $verifier, 'client_id' => $this->settings['client_id']];
        $headers = ['accept' => 'application/json', 'content-type' => 'application/x-www-form-urlencoded'];
        $secret = (string) ($this->settings['client_secret'] ?? '');
        if ($secret !== '') {
            $headers['authorization'] = 'Basic '.base64_encode(rawurlencode((string) $this->settings['client_id']).':'.rawurlencode($secret));
        }
        $answer = $this->asked(new Request('POST', $this->discovered('token_endpoint'), $headers, http_build_query($fields, '', '&')), [$secret, $code, $verifier]);
        $token = $answer['id_token'] ?? null;

        return is_string($token) ? $token : throw ProviderRefused::because('The provider gave no ID token: '.self::said($answer).'.');
    }

    /**
     * OpenID Connect Core 1.0 §3.1.3.7.
     *
     * @return array<string, mixed>
     *
     * @throws ProviderRefused
     */
    private function checked(#[\SensitiveParameter] string $token, string $nonce): array
    {
        try {
            $claims = $this->verified($token, $this->keys(false));
        } catch (\UnexpectedValueException $unknown) {
            // The provider may have changed its keys since they were read.
            try {
                $claims = $this->verified($token, $this->keys(true));
            } catch (\UnexpectedValueException $refused) {
                throw ProviderRefused::because('The ID token is not valid: '.mb_strimwidth(mb_scrub($refused->getMessage()), 0, 120, '…').'.');
            }
        }
        $audience = (array) ($claims['aud'] ?? []);
        $wrong = match (true) {
            ($claims['iss'] ?? null) !== $this->settings['issuer'] => 'it is of another issuer',
            ! in_array($this->settings['client_id'], $audience, true) => 'it is for another application',
            count($audience) > 1 && ($claims['azp'] ?? null) !== $this->settings['client_id'], isset($claims['azp']) && $claims['azp'] !== $this->settings['client_id'] => 'it was made for another application',
            ! is_int($claims['exp'] ?? null) || ! is_int($claims['iat'] ?? null) => 'it does not say how long it holds',
            $claims['iat'] < time() - self::SECONDS => 'it is too old',
            ! is_string($claims['nonce'] ?? null) || ! hash_equals($nonce, $claims['nonce']) => 'it belongs to another sign-in',
            ! is_string($claims['sub'] ?? null) || $claims['sub'] === '' || strlen($claims['sub']) > 255 => 'it does not say who it is of',
            default => null,
        };

        return $wrong === null ? $claims : throw ProviderRefused::because("The ID token is not taken: $wrong.");
    }

    /**
     * @param  array<string, \Firebase\JWT\Key>  $keys
     * @return array<string, mixed>
     */
    private function verified(#[\SensitiveParameter] string $token, array $keys): array
    {
        $header = json_decode((string) base64_decode(strtr(explode('.', $token)[0], '-_', '+/')), true);
        $algorithm = is_array($header) ? $header['alg'] ?? null : null;
        if (! in_array($algorithm, self::ALGORITHMS, true)) {
            throw new \UnexpectedValueException('its signature is of a kind that proves nothing');
        }
        // Which of several keys it is, is said by its id; with one key it may be left out (RFC 7515 §4.1.4).
        $key = isset($header['kid']) ? $keys : (count($keys) === 1 ? reset($keys) : throw new \UnexpectedValueException('it does not say by which key it was signed'));
        JWT::$leeway = 60;

        return (array) json_decode((string) json_encode(JWT::decode($token, $key)), true);
    }

    /**
     * @return array<string, \Firebase\JWT\Key>
     *
     * @throws ProviderRefused
     */
    private function keys(bool $anew): array
    {
        $set = $this->kept('keys', $anew, fn (): array => $this->asked(new Request('GET', $this->discovered('jwks_uri'), ['accept' => 'application/json'])));
        // Only those that sign.
        $set['keys'] = array_values(array_filter((array) ($set['keys'] ?? []), static fn (mixed $key): bool => is_array($key) && ($key['use'] ?? 'sig') === 'sig' && ($key['kty'] ?? '') !== 'oct'));

        return $set['keys'] === [] ? throw ProviderRefused::because('The provider publishes no keys to check its signatures with.') : JWK::parseKeySet($set, 'RS256');
    }

    /**
     * @throws ProviderRefused
     */
    private function discovered(string $member): string
    {
        $issuer = (string) $this->settings['issuer'];
        $found = $this->kept('discovery', false, fn (): array => $this->asked(new Request('GET', rtrim($issuer, '/').'/.well-known/openid-configuration', ['accept' => 'application/json'])));
        if (($found['issuer'] ?? null) !== $issuer) {
            throw ProviderRefused::because('The provider describes itself as another issuer than the one that is set here.');
        }
        $address = $found[$member] ?? null;

        return is_string($address) && preg_match('~^https?://~', $address) === 1 ? $address : throw ProviderRefused::because("The provider does not say its $member.");
    }

    /**
     * @param  list<string>  $sensitive
     * @return array<string, mixed>
     *
     * @throws ProviderRefused
     */
    private function asked(Request $request, #[\SensitiveParameter] array $sensitive = []): array
    {
        $sent = $this->transport->send($request, new Limits(10, 1, 1 << 20), new SecretMask($sensitive));
        $answer = json_decode($sent->body, true);
        if ($sent->status === null) {
            throw ProviderRefused::because("The provider cannot be reached: {$sent->detail}.");
        }
        if ($sent->status !== 200 || ! is_array($answer)) {
            throw ProviderRefused::because("The provider answered {$sent->status}".(is_array($answer) ? ': '.self::said($answer) : '').'.');
        }

        return $answer;
    }

    /**
     * @param  \Closure(): array<string, mixed>  $read
     * @return array<string, mixed>
     */
    private function kept(string $what, bool $anew, \Closure $read): array
    {
        $name = 'provider '.$what.' '.hash('xxh128', serialize($this->settings));
        if ($anew) {
            $this->cache->forget($name);
        }

        return (array) $this->cache->remember($name, self::SECONDS, $read);
    }

    /**
     * @param  array<string, mixed>  $answer
     */
    private static function said(array $answer): string
    {
        $text = implode(', ', array_filter([$answer['error'] ?? null, $answer['error_description'] ?? null], is_string(...)));

        return $text === '' ? 'it does not say why' : mb_strimwidth((string) preg_replace('/[^\x20-\x7e]+/', ' ', $text), 0, 200, '…');
    }

    private static function random(int $bytes = 24): string
    {
        return self::base64Url(random_bytes($bytes));
    }

    private static function base64Url(string $bytes): string
    {
        return rtrim(strtr(base64_encode($bytes), '+/', '-_'), '=');
    }
}
