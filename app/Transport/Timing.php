<?php

declare(strict_types=1);

namespace App\Transport;

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
    ) {
    }

    /**
     * @param  array<string, mixed>  $stats  of curl, times in seconds from the start
     */
    public static function fromCurl(array $stats, Trail $trail, float $elapsed, int $waited, int $attempts): self
    {
        $ms = static fn (string $name): float => round(1000 * (float) ($stats[$name] ?? 0), 1);
        $connected = max($ms('connect_time'), $ms('namelookup_time'));
        $secured = max($ms('appconnect_time'), $connected);

        return new self(
            round($ms('namelookup_time') + $trail->milliseconds, 1), round($connected - $ms('namelookup_time'), 1), round($secured - $connected, 1),
            max(0.0, round($ms('starttransfer_time') - $secured, 1)), round(max($ms('total_time') + $trail->milliseconds, $elapsed * 1000), 1),
            $waited, $attempts, (string) ($stats['primary_ip'] ?? ''), $trail->hops, self::certificate($stats['certinfo'] ?? []),
        );
    }

    /**
     * @return array<string, mixed>
     */
    public function toArray(): array
    {
        return array_filter(get_object_vars($this), static fn (mixed $value): bool => $value !== [] && $value !== null);
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
