<?php

declare(strict_types=1);

namespace App\Local;

/**
 * The accounts of the system that processes run as. Started by root, nothing that listens runs as
 * root: the application has an account of its own, and the database that of its package. Started by
 * anybody else, everything runs as that person.
 */
final readonly class Account
{
    public const APPLICATION = 'deep-spring';

    public const DATABASE = 'mysql';

    private function __construct(public string $name, public int $id, public int $group, private bool $switches)
    {
    }

    public static function application(): self
    {
        return self::named(self::APPLICATION);
    }

    public static function database(): self
    {
        return self::named(self::DATABASE);
    }

    /**
     * @throws Trouble when root has no such account to switch to
     */
    private static function named(string $name): self
    {
        $own = posix_geteuid();
        if ($own !== 0) {
            return new self((string) (posix_getpwuid($own)['name'] ?? $own), $own, posix_getegid(), false);
        }
        $entry = posix_getpwnam($name);
        if ($entry === false) {
            throw new Trouble("There is no account \"$name\" on this machine. Make it with: useradd --system --user-group --no-create-home --shell /usr/sbin/nologin $name");
        }

        return new self($name, $entry['uid'], $entry['gid'], true);
    }

    /**
     * A command that runs as this account.
     *
     * @param  list<string>  $command
     * @return list<string>
     */
    public function command(array $command): array
    {
        return $this->switches ? ['setpriv', "--reuid={$this->id}", "--regid={$this->group}", '--init-groups', '--', ...$command] : $command;
    }

    /**
     * Makes a file or a folder with all that is in it this account's own, where it is not yet.
     */
    public function own(string $path): void
    {
        if ($this->switches && file_exists($path) && (fileowner($path) !== $this->id || filegroup($path) !== $this->group)) {
            (new \Symfony\Component\Process\Process(['chown', '-R', "{$this->id}:{$this->group}", $path], timeout: 600))->mustRun();
        }
    }

    /**
     * Sees to it that the account can reach a folder: where a folder on the way is closed to others,
     * it is opened to this account alone.
     *
     * @throws Trouble
     */
    public function reach(string $folder): void
    {
        if (! $this->switches) {
            return;
        }
        $way = [];
        for ($part = $folder; $part !== '/'; $part = dirname($part)) {
            $way[] = $part;
        }
        foreach (array_reverse($way) as $part) {
            clearstatcache(true, $part);
            if ((fileperms($part) & 0001) === 0 && fileowner($part) !== $this->id && ! $this->can('-x', $part)) {
                exec('setfacl -m '.escapeshellarg("u:{$this->name}:--x").' '.escapeshellarg($part).' 2>&1', $said, $code);
                if ($code !== 0) {
                    throw new Trouble("The account \"{$this->name}\" cannot reach $folder, because $part is closed to others. Move the application, or open the way with: chmod o+x $part");
                }
            }
        }
    }

    /**
     * @param  '-r'|'-x'|'-w'  $how
     */
    public function can(string $how, string $path): bool
    {
        exec(implode(' ', array_map(escapeshellarg(...), $this->command(['test', $how, $path]))), $said, $code);

        return $code === 0;
    }
}
