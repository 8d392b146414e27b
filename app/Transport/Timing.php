<?php

declare(strict_types=1);

namespace App\Transport;

use DeepSpring\Value\Phrase;

/**
 * How long each phase took, in milliseconds, and what the connection was.
 */
final readonly class Timing
{
    /**
     * @param  list<array{status: int, to: string}>  $hops  redirects that were followed
     * @param  array{subject: string, issuer: string, until: int}|null  $certificate  of the server; the last as seconds since 1970
     */
    public function __construct(
        public float $name,
        public float $connect,
        public float $tls,
        public float $firstByte,
        public float $total,
        /** Time waited because the service asked for it, or between attempts. */
        public int $waited,
        public int $attempts,
        public string $address,
        public array $hops = [],
        public ?array $certificate = null,
        /** Bytes of the bodies on the wire, as sent and as received before decompression. */
        public int $bytesSent = 0,
        public int $bytesReceived = 0,
        /** Like "HTTP/1.1". */
        public string $protocol = '',
        /** Like "TLSv1.3"; empty when it was not watched closely, or not secured. */
        public string $tlsVersion = '',
        public string $scheme = 'http',
    ) {
    }

    /**
     * Of what was not sent.
     */
    public static function none(): self
    {
        return new self(0, 0, 0, 0, 0, 0, 0, '');
    }

    /**
     * @param  array<string, mixed>  $stats  of curl, times in seconds from the start
     */
    public static function fromCurl(array $stats, Trail $trail, float $elapsed, int $waited, int $attempts, string $tlsVersion = ''): self
    {
        $ms = static fn (string $name): float => round(1000 * (float) ($stats[$name] ?? 0), 1);
        $connected = max($ms('connect_time'), $ms('namelookup_time'));
        $secured = max($ms('appconnect_time'), $connected);

        return new self(
            round($ms('namelookup_time') + $trail->milliseconds, 1), round($connected - $ms('namelookup_time'), 1), round($secured - $connected, 1),
            max(0.0, round($ms('starttransfer_time') - $secured, 1)), round(max($ms('total_time') + $trail->milliseconds, $elapsed * 1000), 1),
            $waited, $attempts, (string) ($stats['primary_ip'] ?? ''), $trail->hops, self::certificate($stats['certinfo'] ?? []),
            (int) ($stats['size_upload'] ?? 0), (int) ($stats['size_download'] ?? 0), [1 => 'HTTP/1.0', 2 => 'HTTP/1.1', 3 => 'HTTP/2', 30 => 'HTTP/3'][(int) ($stats['http_version'] ?? 0)] ?? '', $tlsVersion, str_starts_with((string) ($stats['url'] ?? ''), 'https:') ? 'https' : 'http',
        );
    }

    /**
     * Where a request was when its time ran out or somebody stopped it.
     *
     * @param  array<string, mixed>  $stats  of curl, times in seconds from the start
     */
    public static function phase(array $stats, bool $isSecure): string
    {
        $at = static fn (string $name): float => (float) ($stats[$name] ?? 0);

        return match (true) {
            $at('namelookup_time') === 0.0 => 'looking up the name',
            $at('connect_time') === 0.0 => 'connecting',
            $isSecure && $at('appconnect_time') === 0.0 => 'agreeing on TLS',
            $at('starttransfer_time') === 0.0 => 'waiting for the first byte of the answer',
            default => 'receiving the answer, of which '.Phrase::count((int) ($stats['size_download'] ?? 0), 'byte').' had come',
        };
    }

    /**
     * @return array<string, mixed>
     */
    public function toArray(): array
    {
        return array_filter(get_object_vars($this), static fn (mixed $value): bool => $value !== [] && $value !== null && $value !== '');
    }

    /**
     * @return array{subject: string, issuer: string, until: int}|null
     */
    private static function certificate(mixed $chain): ?array
    {
        $first = is_array($chain) ? $chain[0] ?? null : null;
        if (! is_array($first) || ! isset($first['Subject'], $first['Issuer'], $first['Expire date'])) {
            return null;
        }
        $name = static fn (string $of): string => preg_match('/\b(?:CN|O)\s*=\s*([^,\/]+)/', (string) $of, $part) === 1 ? trim($part[1]) : (string) $of;

        return ['subject' => $name($first['Subject']), 'issuer' => $name($first['Issuer']), 'until' => (int) strtotime((string) $first['Expire date'])];
    }
}
