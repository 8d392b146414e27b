<?php

declare(strict_types=1);

namespace DeepSpring\Access\OAuth;

use DeepSpring\Access\AccessToken;
use DeepSpring\Access\HeaderValue;
use DeepSpring\Access\Secrets;
use DeepSpring\Access\TokenAnswer;
use DeepSpring\Access\TokenRefused;
use DeepSpring\Access\TokenScheme;
use Psr\Http\Message\RequestInterface;

/**
 * What the OAuth schemes share: the token travels as a bearer token (RFC 6750 §2.1), and a token
 * endpoint answers as RFC 6749 §5 says.
 */
abstract readonly class BearerScheme implements TokenScheme
{
    /**
     * @param  array<string, mixed>  $entry  of a source file, variables filled in
     */
    public function __construct(protected array $entry)
    {
    }

    public function apply(RequestInterface $request, Secrets $secrets): RequestInterface
    {
        return $request->withHeader('authorization', 'Bearer '.HeaderValue::checked($secrets->token($this)->value, 'token'));
    }

    public function id(): string
    {
        $entry = array_diff_key($this->entry, ['credentials_in' => 1, 'issuer' => $this->entry['scheme'] !== 'jwt-assertion' ? 1 : null, 'revoke_url' => 1]);
        ksort($entry);

        return hash('sha256', serialize($entry));
    }

    public function isPersonal(): bool
    {
        return false;
    }

    public function isFor(string $method): bool
    {
        return true;
    }

    public function header(): string
    {
        return 'authorization';
    }

    public function read(TokenAnswer $answer, ?AccessToken $old, int $now): AccessToken
    {
        $members = $answer->members();
        if ($answer->status < 200 || $answer->status > 299 || $members === null || isset($members['error'])) {
            throw TokenRefused::by($answer);
        }
        $value = $members['access_token'] ?? null;
        if (! is_string($value) || $value === '') {
            throw TokenRefused::withoutToken($answer, 'access_token');
        }
        $life = $members['expires_in'] ?? null;
        $refresh = $members['refresh_token'] ?? null;
        $scope = $members['scope'] ?? null;

        // A refresh token that is not replaced stays in use (RFC 6749 §6).
        return new AccessToken($value, $now, is_numeric($life) ? $now + max(0, (int) $life) : null, is_string($refresh) && $refresh !== '' ? $refresh : $old?->refresh, is_string($scope) && $scope !== '' ? $scope : $this->entry['scope'] ?? null);
    }

    public function scope(): ?string
    {
        return $this->entry['scope'] ?? null;
    }
}
