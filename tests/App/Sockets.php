<?php

declare(strict_types=1);

namespace Tests\App;

/**
 * Connections of another process, as Linux tells them.
 */
final class Sockets
{
    /** Of an established connection, in /proc/net/tcp. */
    private const ESTABLISHED = '01';

    /**
     * Whether the process has an open connection to a port.
     */
    public static function reach(int $pid, int $port): bool
    {
        $own = array_map(static fn (string $file): string => (string) @readlink($file), (array) glob("/proc/$pid/fd/*"));
        foreach (array_slice((array) @file('/proc/net/tcp'), 1) as $line) {
            $part = preg_split('/\s+/', trim((string) $line)) ?: [];
            if (($part[3] ?? '') === self::ESTABLISHED && hexdec(explode(':', $part[2])[1]) === $port && in_array("socket:[{$part[9]}]", $own, true)) {
                return true;
            }
        }

        return false;
    }

    public static function await(int $pid, string $address, int $seconds = 30): bool
    {
        $port = (int) parse_url($address, PHP_URL_PORT);
        for ($until = microtime(true) + $seconds; microtime(true) < $until; usleep(20_000)) {
            if (self::reach($pid, $port)) {
                return true;
            }
        }

        return false;
    }
}
