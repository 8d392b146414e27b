<?php

declare(strict_types=1);

namespace App\Local;

/**
 * The folders of an instance: the application's own, but for that of the database. Nobody else can
 * list them; the database's account passes through to its own.
 */
final readonly class Folders
{
    private const PARTS = ['run', 'log', 'keys', 'views', 'tmp', 'cache', 'standins'];

    public function __construct(private string $folder, private Account $account)
    {
    }

    /**
     * @throws Trouble
     */
    public function ensure(): void
    {
        $this->openWay(dirname($this->folder));
        foreach (['', ...array_map(static fn (string $part): string => "/$part", self::PARTS)] as $part) {
            $path = $this->folder.$part;
            if (! is_dir($path) && ! @mkdir($path, 0700, true)) {
                throw new Trouble("$path cannot be made: is the disk full, or the folder not yours?");
            }
            if (! is_writable($path)) {
                throw new Trouble("$path is not yours to write to: it belongs to ".((posix_getpwuid((int) fileowner($path))['name'] ?? fileowner($path))).'. Start it as that account, or in a copy of your own.');
            }
            if ($part !== '') {
                $this->account->own($path);
            }
        }
        if (posix_geteuid() === 0) {
            chown($this->folder, $this->account->id);
            chgrp($this->folder, $this->account->group);
        }
        if (fileowner($this->folder) === posix_geteuid() || posix_geteuid() === 0) {
            chmod($this->folder, 0711);
        }
        $this->account->reach($this->folder);
    }

    /**
     * Folders above it that are not there yet are made such that others pass through, and do not list them.
     */
    private function openWay(string $above): void
    {
        if (! is_dir($above)) {
            $this->openWay(dirname($above));
            @mkdir($above) && chmod($above, 0711);
        }
    }

    /**
     * @throws Trouble when the application's account cannot read its own code
     */
    public function refuseUnreadable(string $root): void
    {
        foreach (['artisan', 'vendor/autoload.php', 'public/index.php', 'core'] as $part) {
            if (! $this->account->can('-r', "$root/$part")) {
                throw new Trouble("The account \"{$this->account->name}\" cannot read $root/$part. Let everybody read the application, which holds no secrets, with: chmod -R o+rX $root");
            }
        }
    }
}
