<?php

declare(strict_types=1);

namespace Tests;

use App\Local\Ports;

/**
 * One of several processes that work through the suites at once. Each has an instance, a database and
 * ports of its own.
 */
final class Lane
{
    /** Between the ports of two lanes. */
    private const PORTS = 1000;

    /**
     * The number that the runner gives to each process, from 1.
     */
    public static function number(): int
    {
        return max(1, (int) getenv('TEST_TOKEN'));
    }

    /**
     * Takes over the settings of the lane's instance, which `./spring test` has written down.
     */
    public static function enter(): void
    {
        $file = getenv('SPRING_LANES');
        $all = is_string($file) && is_file($file) ? json_decode((string) file_get_contents($file), true) : [];
        foreach ($all[self::number()] ?? [] as $name => $value) {
            $_ENV[$name] = $_SERVER[$name] = $value;
            putenv("$name=$value");
        }
    }

    /**
     * The folder of the lane's instance, relative to the root.
     */
    public static function folder(): string
    {
        $folder = getenv('SPRING_LANE_FOLDER');

        return is_string($folder) && $folder !== '' ? $folder : 'var/test';
    }

    /**
     * Five free ports that no other lane takes at the same moment.
     */
    public static function ports(int $first): Ports
    {
        return Ports::freeFrom($first + self::PORTS * (self::number() - 1));
    }
}
