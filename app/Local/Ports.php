<?php

declare(strict_types=1);

namespace App\Local;

/**
 * Five ports in a row: web, stand-ins, private stand-ins, database, mail of the stand-ins.
 */
final class Ports
{
    /** @var array<int, resource> locked files, by the first port, as long as this process lives */
    private static array $reserved = [];

    private function __construct(public readonly int $web, public readonly int $standins, public readonly int $private, public readonly int $database, public readonly int $mail)
    {
    }

    public static function from(int $web): self
    {
        if ($web < 1024 || $web > 65531) {
            throw new Trouble('A port lies between 1024 and 65531.');
        }

        return new self($web, $web + 1, $web + 2, $web + 3, $web + 4);
    }

    /**
     * The first five free ones in a row, at or after a port. No other process is given the same until this one
     * ends, so that two that look for ports at the same time do not find the same ones free.
     */
    public static function freeFrom(int $first): self
    {
        for ($port = $first; $port < $first + 400; $port += 5) {
            $ports = self::from($port);
            if ($ports->taken() === null && $ports->reserve()) {
                return $ports;
            }
        }

        throw new Trouble("No five free ports in a row between $first and ".($first + 400).'.');
    }

    /**
     * Until something listens on a port.
     */
    public static function await(int $port, string $what): void
    {
        for ($until = microtime(true) + 20; microtime(true) < $until; SideBySide::moment()) {
            $connection = @fsockopen('127.0.0.1', $port, $number, $error, 1);
            if ($connection !== false) {
                fclose($connection);

                return;
            }
        }

        throw new Trouble("$what does not answer on port $port after 20 s.");
    }

    private function reserve(): bool
    {
        if (isset(self::$reserved[$this->web])) {
            return true;
        }
        $file = @fopen(sys_get_temp_dir()."/spring-ports-{$this->web}", 'c');
        if ($file === false) {
            // Another account made the file: the ports are free as far as anybody can see.
            return true;
        }
        if (! flock($file, LOCK_EX | LOCK_NB)) {
            return false;
        }
        self::$reserved[$this->web] = $file;

        return true;
    }

    /**
     * The first of them that something listens on.
     */
    public function taken(): ?int
    {
        foreach ([$this->web, $this->standins, $this->private, $this->database, $this->mail] as $port) {
            $server = @stream_socket_server("tcp://127.0.0.1:$port");
            if ($server === false) {
                return $port;
            }
            fclose($server);
        }

        return null;
    }
}
