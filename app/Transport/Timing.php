<?php

declare(strict_types=1);

namespace App\Transport;

/**
 * How long each phase took, in milliseconds, and what the connection was.
 */
final readonly class Timing
{
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
    ) {
    }

    /**
     * @param  array<string, mixed>  $stats  of curl, times in seconds from the start
     */
    public static function fromCurl(array $stats, float $elapsed, int $waited, int $attempts): self
    {
        $ms = static fn (string $name): float => round(1000 * (float) ($stats[$name] ?? 0), 1);
        $connected = max($ms('connect_time'), $ms('namelookup_time'));
        $secured = max($ms('appconnect_time'), $connected);

        return new self(
            $ms('namelookup_time'), round($connected - $ms('namelookup_time'), 1), round($secured - $connected, 1),
            max(0.0, round($ms('starttransfer_time') - $secured, 1)), round(max($ms('total_time'), $elapsed * 1000 - $waited), 1),
            $waited, $attempts, (string) ($stats['primary_ip'] ?? ''),
        );
    }

    /**
     * @return array<string, int|float|string>
     */
    public function toArray(): array
    {
        return get_object_vars($this);
    }
}
