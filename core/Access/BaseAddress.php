<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use DeepSpring\Outbound\AddressRules;
use DeepSpring\Outbound\HostLiteral;
use DeepSpring\Outbound\UnusableHost;

/**
 * Looks at a base address as it is typed.
 */
final class BaseAddress
{
    /**
     * @param  list<string>  $paths  of the endpoints of the source
     * @return list<AddressFinding>
     */
    public static function findings(string $typed, array $paths = []): array
    {
        $text = trim($typed);
        if ($text === '') {
            return [];
        }
        if (preg_match('~^(?:jdbc:)?(mysql|mariadb|postgres|postgresql|mongodb(?:\+srv)?|redis|amqp|sqlserver|oracle|ftp|sftp|ws|wss|file|ldap)s?:~i', $text, $part) === 1) {
            return [new AddressFinding('not-http', "\"$part[1]:\" is not the address of a web API.", null, true)];
        }
        if (preg_match('/\s/', $text) === 1) {
            return [new AddressFinding('space', 'An address has no space in it.', preg_match('~^https?://~i', $text) === 1 ? preg_replace('/\s+/', '', $text) : null, true)];
        }
        $findings = [];
        if (preg_match('~^https?://[^/]~i', $text) !== 1) {
            $rest = (string) preg_replace('~^(?:[a-z]*:)?/*~i', '', preg_match('~^[a-z0-9.-]+:\d~i', $text) === 1 ? "//$text" : $text);
            $local = preg_match('~^(?:localhost|127\.|\[?::1|10\.|192\.168\.)~i', $rest) === 1;
            $text = ($local ? 'http://' : 'https://').$rest;
            $findings[] = new AddressFinding('scheme', 'The scheme is missing.', $text, true);
        }
        $parts = parse_url($text);
        if ($parts === false || ($parts['host'] ?? '') === '') {
            return [...$findings, new AddressFinding('unreadable', 'This is no address.', null, true)];
        }

        return [...$findings, ...self::parts($text, $parts), ...self::host(strtolower((string) $parts['host']), $parts), ...self::path($text, (string) ($parts['path'] ?? ''), $paths)];
    }

    /**
     * The first repair of each kind, one after the other: what was most likely meant.
     *
     * @param  list<string>  $paths
     */
    public static function repaired(string $typed, array $paths = []): ?string
    {
        $now = trim($typed);
        for ($round = 0; $round < 8; $round++) {
            $next = null;
            foreach (self::findings($now, $paths) as $finding) {
                $next ??= $finding->blocks || $finding->code === 'slash' ? $finding->instead : null;
            }
            if ($next === null || $next === $now) {
                break;
            }
            $now = $next;
        }

        $blocked = array_filter(self::findings($now, $paths), static fn (AddressFinding $finding): bool => $finding->blocks);

        return $blocked === [] && $now !== trim($typed) && preg_match('~^https?://[^/?#@\s]+(/[^?#\s]*)?$~', $now) === 1 ? $now : null;
    }

    /**
     * @param  array<string, int|string>  $parts
     * @return list<AddressFinding>
     */
    private static function parts(string $text, array $parts): array
    {
        $findings = [];
        if (isset($parts['user'])) {
            $findings[] = new AddressFinding('user-info', 'A name or password stands in the address, where everybody would see it. It belongs under Authentication.', preg_replace('~://[^/@]*@~', '://', $text), true);
        }
        if (isset($parts['query']) || isset($parts['fragment']) || str_ends_with($text, '?')) {
            $findings[] = new AddressFinding('query', 'A query is left in the address. What every request needs goes into the query of the source, the rest into inputs of endpoints.', preg_replace('~[?#].*$~s', '', $text), true);
        }
        if (str_ends_with((string) preg_replace('~[?#].*$~s', '', $text), '/') && ! isset($parts['query'], $parts['fragment'])) {
            $findings[] = new AddressFinding('slash', 'A slash stands at the end. Paths of endpoints begin with one.', rtrim((string) preg_replace('~[?#].*$~s', '', $text), '/'));
        }

        return $findings;
    }

    /**
     * @param  array<string, int|string>  $parts
     * @return list<AddressFinding>
     */
    private static function host(string $host, array $parts): array
    {
        if ($host === 'localhost' || str_ends_with($host, '.localhost')) {
            return [new AddressFinding('localhost', 'localhost is the machine that Deep Spring runs on, not yours. It probably comes from a description file; the documentation names the public host.')];
        }
        if (preg_match('/^(?:db|sql|mysql|mariadb|postgres|pg|mongo|redis|oracle|mssql|database)\d*[.-]/', $host) === 1 || in_array($parts['port'] ?? 0, [1433, 1521, 3306, 5432, 6379, 27017], true)) {
            return [new AddressFinding('database', 'This looks like the host of a database, from a connection string. An API has an address of its own, often api.…')];
        }
        try {
            $literal = HostLiteral::of($host);
        } catch (UnusableHost $unusable) {
            return [new AddressFinding('host', $unusable->getMessage(), null, true)];
        }
        if ($literal === null) {
            return str_contains($host, '.') ? [] : [new AddressFinding('short-name', "\"$host\" is a name inside a network. It is only known here if this server stands in that network.")];
        }
        $kind = AddressRules::refusal($literal->address);
        if ($kind !== null) {
            return [new AddressFinding('private', "$host is $kind. Requests only go there if an administrator allowed this host and port.")];
        }

        return [new AddressFinding('literal', 'This is a network address and not a name. It changes when the service moves, and certificates are rarely made for it.')];
    }

    /**
     * @param  list<string>  $paths
     * @return list<AddressFinding>
     */
    private static function path(string $text, string $path, array $paths): array
    {
        foreach ($paths as $endpoint) {
            $endpoint = '/'.trim((string) preg_replace('~/?\{.*$~', '', $endpoint), '/');
            if ($endpoint !== '/' && str_ends_with(rtrim($path, '/'), $endpoint)) {
                return [new AddressFinding('endpoint-path', "$endpoint is the path of an endpoint, and stands in the base address as well.", substr(rtrim((string) preg_replace('~[?#].*$~s', '', $text), '/'), 0, -strlen($endpoint)))];
            }
        }
        if (preg_match('~/(?:token|oauth2?/authorize|swagger(?:-ui)?|docs?|openapi\.(?:json|yaml)|swagger\.json|graphql|redoc)/?$~i', $path, $part) === 1) {
            return [new AddressFinding('other-path', "$part[0] is probably the path of something else than data: a sign-in, a description, a page of documentation.", rtrim(substr($text, 0, (int) strrpos(rtrim($text, '/'), $part[0])), '/') ?: null)];
        }

        return [];
    }
}
