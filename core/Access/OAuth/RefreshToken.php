<?php

declare(strict_types=1);

namespace DeepSpring\Access\OAuth;

use DeepSpring\Access\AccessScheme;
use DeepSpring\Access\AccessToken;
use DeepSpring\Access\SchemeSettings;
use DeepSpring\Access\Secrets;
use DeepSpring\Access\Value;
use DeepSpring\Value\Kind\Kind;
use Psr\Http\Message\RequestInterface;

/**
 * RFC 6749 §6 alone, for a refresh token that was handed over some other way. One that the service
 * puts in its place is used from then on.
 */
final readonly class RefreshToken extends BearerScheme implements AccessScheme
{
    public static function kind(): Kind
    {
        return new Kind('oauth2-refresh-token', 'OAuth 2.0 refresh token', 'With a refresh token that somebody handed over (RFC 6749 §6).', [
            SchemeSettings::issuer(), SchemeSettings::tokenUrl(), ...SchemeSettings::client(false), SchemeSettings::secret('refresh_token', 'refresh token', 'The refresh token.'), SchemeSettings::scope(),
            SchemeSettings::credentialsIn(),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self($entry);
    }

    public function tokenRequest(Secrets $secrets, ?AccessToken $old, int $now): RequestInterface
    {
        return Client::of($this->entry)->request(['grant_type' => 'refresh_token', 'refresh_token' => $old->refresh ?? $this->given($secrets), 'scope' => $this->entry['scope'] ?? null], $secrets);
    }

    public function sensitive(Secrets $secrets): array
    {
        return [...Client::of($this->entry)->sensitive($secrets), $this->given($secrets)];
    }

    public function secretNames(): array
    {
        return [...Client::of($this->entry)->secretNames(), ...Value::of($this->entry['refresh_token'])->secretNames()];
    }

    public function label(): string
    {
        return 'OAuth refresh token';
    }

    private function given(Secrets $secrets): string
    {
        return Value::of($this->entry['refresh_token'])->reveal($secrets);
    }
}
