<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Access\OAuth\AuthorizationCode;
use DeepSpring\Access\OAuth\ClientCredentials;
use DeepSpring\Access\OAuth\JwtAssertion;
use DeepSpring\Access\OAuth\RefreshToken;

/**
 * The `access` list of a source file → schemes.
 */
final class SchemeFactory
{
    /**
     * @param  list<array<string, mixed>>  $access  valid by the schema, variables filled in
     * @param  string  $base  address that paths of sign-in requests go on from
     * @return array<int, Scheme> by their place in the list
     */
    public static function all(array $access, string $base = ''): array
    {
        $schemes = [];
        foreach ($access as $number => $entry) {
            $scheme = self::one($entry, $base, array_values($schemes));
            if ($scheme !== null) {
                $schemes[$number] = $scheme;
            }
        }

        return $schemes;
    }

    /**
     * @param  array<string, mixed>  $entry
     * @param  list<Scheme>  $before
     */
    private static function one(array $entry, string $base, array $before): ?Scheme
    {
        return match ($entry['scheme']) {
            'basic' => new Basic(Value::of($entry['username']), Value::of($entry['password'])),
            'bearer' => new Bearer(Value::of($entry['token']), $entry['prefix'] ?? 'Bearer'),
            'api-key' => new ApiKey($entry['in'], $entry['name'], Value::of($entry['value']), $entry['prefix'] ?? ''),
            'oauth2-client-credentials' => new ClientCredentials($entry),
            'oauth2-authorization-code' => new AuthorizationCode($entry),
            'oauth2-refresh-token' => new RefreshToken($entry),
            'jwt-assertion' => new JwtAssertion($entry),
            'login' => new Login($entry, $base),
            'csrf-token' => new CsrfToken($entry, $base, $before),
            'client-certificate' => new ClientCertificate(Value::of($entry['certificate']), Value::of($entry['key']), isset($entry['passphrase']) ? Value::of($entry['passphrase']) : null),
            default => null,
        };
    }
}
