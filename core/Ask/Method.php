<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

/**
 * Methods of requests: those of RFC 9110 §9, and of its registry those that APIs are known to use.
 */
final class Method
{
    /** Those that a form offers. */
    public const USUAL = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS', 'TRACE'];

    /** All that an endpoint can have. */
    public const ALL = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS', 'TRACE', 'MERGE', 'QUERY', 'SEARCH', 'REPORT', 'PROPFIND', 'PROPPATCH', 'MKCOL', 'COPY', 'MOVE', 'LOCK', 'UNLOCK', 'LINK', 'UNLINK', 'PURGE'];

    /** Those that change nothing at the service (RFC 9110 §9.2.1). */
    private const SAFE = ['GET', 'HEAD', 'OPTIONS', 'TRACE', 'QUERY', 'SEARCH', 'REPORT', 'PROPFIND'];

    public static function isOne(string $method): bool
    {
        return in_array($method, self::ALL, true);
    }

    public static function isSafe(string $method): bool
    {
        return in_array(strtoupper($method), self::SAFE, true);
    }
}
