<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\EnvFile;
use Symfony\Component\Process\Process;
use Tests\Lane;

/**
 * A copy of the application in an empty place, where its own command is called as somebody would.
 */
final class Place
{
    public readonly string $root;

    public readonly int $port;

    public function __construct(int $from)
    {
        $source = dirname(__DIR__, 2);
        $this->root = sys_get_temp_dir().'/place-'.getmypid().'-'.bin2hex(random_bytes(3));
        // As `mktemp -d` makes it: closed to everybody else.
        mkdir($this->root, 0700);
        $copy = 'cd '.escapeshellarg($source).' && git ls-files -z -c -o --exclude-standard | tar --null -T - --ignore-failed-read -cf - 2>/dev/null | tar -xf - -C '.escapeshellarg($this->root).' && { cp -al vendor '.escapeshellarg($this->root).' 2>/dev/null || cp -a vendor '.escapeshellarg($this->root).'; }';
        (new Process(['sh', '-c', $copy], timeout: 120))->mustRun();
        $this->port = Lane::ports($from)->web;
    }

    /**
     * @param  array<string, string>  $env
     * @return array{int, string, string} exit code, standard output, standard error
     */
    public function spring(array $words, array $env = [], int $seconds = 180): array
    {
        // Nothing of the suite's own settings reaches it.
        $clean = array_fill_keys(array_filter(array_keys(getenv()), static fn (string $name): bool => preg_match('/^(APP_|DB_|SPRING_|CACHE_|SESSION_|QUEUE_|LOG_|MAIL_|REDIS_)/', $name) === 1), false);
        $process = new Process(['./spring', ...$words], $this->root, $env + $clean, timeout: $seconds);
        $process->run();

        return [$process->getExitCode() ?? 1, $process->getOutput(), $process->getErrorOutput()];
    }

    /**
     * @return array<string, string>
     */
    public function settings(): array
    {
        return (new EnvFile("$this->root/.env"))->read();
    }

    public function database(string $schema = 'deep_spring', string $account = 'app'): \PDO
    {
        $env = $this->settings();

        return new \PDO("mysql:host=127.0.0.1;port={$env['DB_PORT']};dbname=$schema;charset=utf8mb4", "ds_$account", $env['DB_'.strtoupper($account).'_PASSWORD'], [\PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION]);
    }

    public function answer(string $path): string
    {
        return (string) @file_get_contents("http://127.0.0.1:$this->port$path", false, stream_context_create(['http' => ['timeout' => 5, 'ignore_errors' => true]]));
    }

    public function leave(): void
    {
        $this->spring(['down']);
        (new Process(['rm', '-rf', $this->root], timeout: 60))->run();
    }
}
