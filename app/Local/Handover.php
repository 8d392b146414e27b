<?php

declare(strict_types=1);

namespace App\Local;

/**
 * Commands that the application itself answers, and how they are handed over to it.
 */
final readonly class Handover
{
    public const COMMANDS = [
        'import', 'export', 'try', 'refresh', 'query', 'allow', 'environment', 'rotate-key', 'versions', 'runs', 'pace', 'odata',
        'person', 'log', 'secrets',
    ];

    public function __construct(private string $root)
    {
    }

    /**
     * Does not come back.
     *
     * @param  list<string>  $words  the command and what follows it
     */
    public function to(array $words): never
    {
        $file = "$this->root/.env";
        if (! is_file($file)) {
            $this->refuse('Nothing is set up here yet. Start with ./spring up.');
        }
        if (! is_readable($file)) {
            $this->refuse("$file belongs to ".(posix_getpwuid((int) fileowner($file))['name'] ?? 'another account').', and only that account can use this installation. Work in a clone of your own, or as that account.');
        }
        $var = (new EnvFile($file))->read()['SPRING_VAR'] ?? 'var';
        $env = Instance::caches("$this->root/$var") + getenv();
        if (posix_geteuid() === 0) {
            // The application lowers itself to this account, so that what it writes belongs to it.
            $env['SPRING_ACCOUNT'] = Account::APPLICATION;
        }
        pcntl_exec(PHP_BINARY, ['-d', 'memory_limit=1G', '-d', 'opcache.enable_cli=1', "$this->root/artisan", "spring:{$words[0]}", ...array_slice($words, 1)], $env);
        $this->refuse('PHP cannot be started once more.');
    }

    private function refuse(string $sentence): never
    {
        fwrite(STDERR, "$sentence\n");
        exit(1);
    }
}
