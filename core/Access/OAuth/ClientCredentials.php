<?php

declare(strict_types=1);

namespace DeepSpring\Access\OAuth;

use DeepSpring\Access\AccessScheme;
use DeepSpring\Access\AccessToken;
use DeepSpring\Access\SchemeSettings;
use DeepSpring\Access\Secrets;
use DeepSpring\Value\Kind\Kind;
use Psr\Http\Message\RequestInterface;

/**
 * RFC 6749 §4.4: the application itself is who asks.
 */
final readonly class ClientCredentials extends BearerScheme implements AccessScheme
{
    public static function kind(): Kind
    {
        return new Kind('oauth2-client-credentials', 'OAuth 2.0 client credentials', 'Machine to machine (RFC 6749 §4.4).', [
            SchemeSettings::issuer(), SchemeSettings::tokenUrl(), ...SchemeSettings::client(), SchemeSettings::scope(), SchemeSettings::audience(),
            SchemeSettings::credentialsIn(), SchemeSettings::extra(),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self($entry);
    }

    public function tokenRequest(Secrets $secrets, ?AccessToken $old, int $now): RequestInterface
    {
        return Client::of($this->entry)->request(['grant_type' => 'client_credentials', 'scope' => $this->entry['scope'] ?? null, 'audience' => $this->entry['audience'] ?? null] + ($this->entry['extra'] ?? []), $secrets);
    }

    /**
     * The same with the credentials in the other place (RFC 6749 §2.3.1).
     */
    public function elsewhere(): self
    {
        return new self(['credentials_in' => ($this->entry['credentials_in'] ?? 'header') === 'header' ? 'body' : 'header'] + $this->entry);
    }

    public function sensitive(Secrets $secrets): array
    {
        return Client::of($this->entry)->sensitive($secrets);
    }

    public function secretNames(): array
    {
        return Client::of($this->entry)->secretNames();
    }

    public function label(): string
    {
        return 'OAuth client credentials';
    }
}
