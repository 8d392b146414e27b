<?php

declare(strict_types=1);

namespace DeepSpring\Access\OAuth;

/**
 * From an issuer to its addresses: RFC 8414 and OpenID Connect Discovery 1.0 §4.
 */
final class Discovery
{
    private const MEMBERS = ['authorize_url' => 'authorization_endpoint', 'token_url' => 'token_endpoint', 'revoke_url' => 'revocation_endpoint'];

    /**
     * Where the description of an issuer can be: the well-known part before its path, or after it.
     *
     * @return list<string>
     */
    public static function places(string $issuer): array
    {
        $issuer = rtrim((string) preg_replace('~/\.well-known/.*$~', '', $issuer), '/');
        $path = (string) parse_url($issuer, PHP_URL_PATH);
        $origin = substr($issuer, 0, strlen($issuer) - strlen($path));

        return array_values(array_unique(["$origin/.well-known/oauth-authorization-server$path", "$issuer/.well-known/openid-configuration", "$issuer/.well-known/oauth-authorization-server"]));
    }

    /**
     * The addresses, by their names in the source file. One that describes another issuer is not
     * taken (RFC 8414 §3.3).
     *
     * @return array<string, string>|null
     */
    public static function read(string $body, string $issuer): ?array
    {
        $document = json_decode($body, true, 16);
        if (! is_array($document) || ! is_string($document['issuer'] ?? null) || rtrim($document['issuer'], '/') !== rtrim((string) preg_replace('~/\.well-known/.*$~', '', $issuer), '/')) {
            return null;
        }
        $found = [];
        foreach (self::MEMBERS as $ours => $theirs) {
            if (is_string($document[$theirs] ?? null) && preg_match('~^https?://~', $document[$theirs]) === 1) {
                $found[$ours] = $document[$theirs];
            }
        }
        $methods = $document['token_endpoint_auth_methods_supported'] ?? null;
        if (is_array($methods) && ! in_array('client_secret_basic', $methods, true) && in_array('client_secret_post', $methods, true)) {
            $found['credentials_in'] = 'body';
        }

        return $found;
    }
}
