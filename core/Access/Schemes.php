<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Access\OAuth\AuthorizationCode;
use DeepSpring\Access\OAuth\ClientCredentials;
use DeepSpring\Access\OAuth\JwtAssertion;
use DeepSpring\Access\OAuth\RefreshToken;
use DeepSpring\Value\Kind\Family;

/**
 * The access schemes there are. A new one is a class that implements `AccessScheme`, and a line here.
 */
final class Schemes
{
    private const ALL = [
        NoAuthentication::class, Basic::class, ApiKey::class, Bearer::class, ClientCredentials::class, AuthorizationCode::class, RefreshToken::class,
        JwtAssertion::class, Login::class, CsrfToken::class, ClientCertificate::class,
    ];

    /** @var Family<AccessScheme>|null */
    private static ?Family $family = null;

    /**
     * @return Family<AccessScheme>
     */
    public static function family(): Family
    {
        return self::$family ??= new Family(AccessScheme::class, self::ALL);
    }

    /**
     * The `access` list of a source file → schemes.
     *
     * @param  list<array<string, mixed>>  $access  valid by the schema, variables filled in
     * @param  string  $base  address that paths of sign-in requests go on from
     * @return array<int, Scheme> by their place in the list
     */
    public static function all(array $access, string $base = ''): array
    {
        $schemes = [];
        foreach ($access as $number => $entry) {
            $class = self::family()->class($entry['scheme']);
            if ($class !== null && $class !== NoAuthentication::class) {
                $schemes[$number] = $class::of($entry, $base, array_values($schemes));
            }
        }

        return $schemes;
    }
}
