<?php

declare(strict_types=1);

namespace DeepSpring\Access\OAuth;

use DeepSpring\Access\AccessScheme;
use DeepSpring\Access\AccessToken;
use DeepSpring\Access\ConsentMissing;
use DeepSpring\Access\SchemeSettings;
use DeepSpring\Access\Secrets;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use Psr\Http\Message\RequestInterface;

/**
 * RFC 6749 §4.1 with PKCE (RFC 7636): a person agrees at the service, once for all or each for
 * themselves; after that the token renews itself as long as the service hands out refresh tokens.
 */
final readonly class AuthorizationCode extends BearerScheme implements AccessScheme
{
    public static function kind(): Kind
    {
        return new Kind('oauth2-authorization-code', 'OAuth 2.0 authorization code', 'With the consent of a person (RFC 6749 §4.1).', [
            SchemeSettings::issuer(),
            new Field('authorize_url', FieldType::Url, 'authorization URL', 'Where the person agrees.', true, start: 'https://'),
            SchemeSettings::tokenUrl(),
            new Field('revoke_url', FieldType::Url, 'revocation URL', 'Where a token is given back (RFC 7009).', example: 'optional'),
            ...SchemeSettings::client(false),
            SchemeSettings::scope(),
            SchemeSettings::flag('shared', 'consent', 'One consent for all, or one for each person.', ['1' => 'one for all', '0' => 'one for each']),
            SchemeSettings::flag('pkce', 'PKCE', 'Whether RFC 7636 is used.', ['1' => 'yes', '0' => 'no']),
            SchemeSettings::credentialsIn(),
            SchemeSettings::extra(),
        ]);
    }

    public static function of(array $entry, string $base, array $before): self
    {
        return new self($entry);
    }

    public function tokenRequest(Secrets $secrets, ?AccessToken $old, int $now): RequestInterface
    {
        if ($old === null) {
            throw ConsentMissing::forAll();
        }
        if ($old->refresh === null) {
            throw ConsentMissing::again();
        }

        return Client::of($this->entry)->request(['grant_type' => 'refresh_token', 'refresh_token' => $old->refresh], $secrets);
    }

    /**
     * The code that came back → a token (RFC 6749 §4.1.3, RFC 7636 §4.5).
     */
    public function exchange(#[\SensitiveParameter] string $code, string $redirect, #[\SensitiveParameter] string $verifier, Secrets $secrets): RequestInterface
    {
        return Client::of($this->entry)->request(['grant_type' => 'authorization_code', 'code' => $code, 'redirect_uri' => $redirect, 'code_verifier' => $this->usesPkce() ? $verifier : null], $secrets);
    }

    /**
     * RFC 7009 §2.1, or null when the source file names no address for it.
     */
    public function revocation(AccessToken $token, Secrets $secrets): ?RequestInterface
    {
        if (! isset($this->entry['revoke_url'])) {
            return null;
        }
        $kind = $token->refresh !== null ? 'refresh_token' : 'access_token';

        return Client::of(['token_url' => $this->entry['revoke_url']] + $this->entry)->request(['token' => $token->refresh ?? $token->value, 'token_type_hint' => $kind], $secrets);
    }

    public function isPersonal(): bool
    {
        return ! ($this->entry['shared'] ?? true);
    }

    public function usesPkce(): bool
    {
        return $this->entry['pkce'] ?? true;
    }

    public function authorizeUrl(): string
    {
        return $this->entry['authorize_url'];
    }

    public function clientId(Secrets $secrets): string
    {
        return Client::of($this->entry)->id->reveal($secrets);
    }

    /**
     * @return array<string, string>
     */
    public function extra(): array
    {
        return $this->entry['extra'] ?? [];
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
        return 'OAuth with consent';
    }
}
