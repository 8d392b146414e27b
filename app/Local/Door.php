<?php

declare(strict_types=1);

namespace App\Local;

use App\Reservoir\DoorAccounts;

/**
 * The way by which tools that are not ours reach the database: an address and a port that an administrator opens. What
 * comes in is passed on from an address of loopback that nothing else uses, and the database has accounts for that
 * address which can do nothing but read what was given to them, over TLS. All others are refused there.
 */
final readonly class Door
{
    /** Connections at the same time. */
    private const MOST = 60;

    private function __construct(public string $address, public int $port)
    {
    }

    /**
     * @param  string  $setting  like 192.0.2.10:3307; empty for closed
     *
     * @throws Trouble
     */
    public static function read(string $setting): ?self
    {
        if (trim($setting) === '') {
            return null;
        }
        $isOne = preg_match('/^\s*(?:\[([0-9a-f:.]+)\]|([0-9.]+)):(\d{1,5})\s*$/iD', $setting, $part, PREG_UNMATCHED_AS_NULL) === 1;
        $address = (string) ($part[1] ?? $part[2] ?? '');
        if (! $isOne || filter_var($address, FILTER_VALIDATE_IP) === false || (int) $part[3] < 1024 || (int) $part[3] > 65535) {
            throw new Trouble("SPRING_DOOR says \"$setting\". It takes an address of this machine and a port from 1024 on, like 192.0.2.10:3307, or nothing.");
        }

        return new self($address, (int) $part[3]);
    }

    /**
     * As an installation is set up.
     *
     * @param  array<string, string>  $env
     *
     * @throws Trouble
     */
    public static function of(array $env): ?self
    {
        $client = $env['DB_CLIENT_HOST'] ?? '127.0.0.1';
        $door = self::read($env['SPRING_DOOR'] ?? '');
        if ($door !== null && ! in_array($client, ['127.0.0.1', 'localhost'], true)) {
            throw new Trouble("The door stays closed: DB_CLIENT_HOST is $client, so accounts of the application could be tried through it. Leave that out, or SPRING_DOOR.");
        }

        return $door;
    }

    /**
     * @return list<string>
     */
    public function command(int $database): array
    {
        $isSix = str_contains($this->address, ':');

        return ['socat', ($isSix ? 'TCP6-LISTEN' : 'TCP4-LISTEN').":$this->port,bind=".($isSix ? "[$this->address]" : $this->address).',reuseaddr,fork,max-children='.self::MOST, "TCP4:127.0.0.1:$database,bind=".DoorAccounts::FROM];
    }
}
