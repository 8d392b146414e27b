<?php

declare(strict_types=1);

namespace DeepSpring\Access;

use GuzzleHttp\Psr7\Request;
use Psr\Http\Message\RequestInterface;

/**
 * What every scheme adds to a request, with dots for what is secret, and without sending one or
 * opening a secret.
 */
final readonly class Additions implements Secrets
{
    private const DOTS = '••••••';

    private function __construct()
    {
    }

    /**
     * @param  array<int, Scheme>  $schemes
     * @return array<int, list<string>> lines by the place of the scheme
     */
    public static function of(array $schemes, string $base): array
    {
        $secrets = new self;
        $adds = [];
        foreach ($schemes as $number => $scheme) {
            $method = $scheme instanceof TokenScheme && ! $scheme->isFor('GET') ? 'POST' : 'GET';
            $bare = new Request($method, $base === '' ? 'https://base.invalid' : $base);
            $mask = array_fill_keys(array_filter($scheme->sensitive($secrets), static fn (string $one): bool => $one !== ''), self::DOTS);
            $lines = array_map(static fn (string $line): string => (string) preg_replace('/(?:•{6}[^\s•]{0,2}){2,}/u', self::DOTS, strtr($line, $mask)), $secrets->difference($bare, $scheme->apply($bare, $secrets)));
            $adds[$number] = match (true) {
                $scheme instanceof SecuresConnection => ['a client certificate, while the connection is made'],
                $method === 'POST' => array_map(static fn (string $line): string => "$line (writes only)", $lines),
                default => $lines,
            };
        }

        return $adds;
    }

    public function get(string $name): string
    {
        return self::DOTS;
    }

    public function token(TokenScheme $scheme): AccessToken
    {
        return new AccessToken(self::DOTS, 0);
    }

    /**
     * @return list<string>
     */
    private function difference(RequestInterface $before, RequestInterface $after): array
    {
        $lines = [];
        foreach ($after->getHeaders() as $name => $values) {
            if ($before->getHeader((string) $name) !== $values) {
                $lines[] = strtolower((string) $name).': '.implode(', ', $values);
            }
        }
        if ($after->getUri()->getQuery() !== $before->getUri()->getQuery()) {
            $lines[] = '?'.rawurldecode($after->getUri()->getQuery());
        }

        return $lines;
    }
}
