<?php

declare(strict_types=1);

namespace App\Local;

/**
 * One running copy of the application: its folder below `var`, its ports, its processes.
 */
final class Instance
{
    private const FREE_BYTES = 400 * 1024 * 1024;

    /** @var array<string, Child> by name, in the order of their start */
    private array $children = [];

    public readonly string $folder;

    /** @var array<string, string> */
    public readonly array $env;

    /**
     * @param  string  $var  relative to the root
     * @param  \Closure(string): void  $say  told about progress
     */
    public function __construct(public readonly string $root, string $var, public readonly Ports $ports, private readonly \Closure $say)
    {
        $this->folder = "$root/$var";
        foreach (['', '/run', '/log', '/keys', '/views', '/tmp', '/standins'] as $part) {
            if (! is_dir($this->folder.$part) && ! @mkdir($this->folder.$part, 0700, true)) {
                throw new Trouble("{$this->folder}$part cannot be made: is the disk full, or the folder not yours?");
            }
        }
        $this->env = (new EnvFile($var === 'var' ? "$root/.env" : "{$this->folder}/env"))->settle([
            'APP_URL' => "http://127.0.0.1:{$ports->web}",
            'DB_PORT' => (string) $ports->database,
            'SPRING_VAR' => $var,
            'SPRING_STANDINS' => "http://127.0.0.1:{$ports->standins}",
            'SPRING_STANDINS_PRIVATE' => "http://127.0.0.1:{$ports->private}",
        ]);
        $key = "{$this->folder}/keys/secrets.key";
        if (! is_file($key)) {
            file_put_contents($key, base64_encode(random_bytes(SODIUM_CRYPTO_SECRETBOX_KEYBYTES))."\n");
            chmod($key, 0600);
        }
    }

    public function database(): void
    {
        $this->refuseTakenPorts();
        $free = @disk_free_space($this->folder);
        if ($free !== false && $free < self::FREE_BYTES) {
            throw new Trouble(sprintf('The disk is full: %d MB are free at %s, and 400 are needed.', $free / 1048576, $this->folder));
        }
        ($this->say)('Starting the database …');
        $this->add((new MariaDb($this->folder, $this->ports->database, $this->env))->start());
    }

    /**
     * Tables, accounts and sources of the demo; the stand-ins; the web server and the workers.
     */
    public function application(int $webWorkers = 4): void
    {
        $router = "$this->root/standins/router.php";
        foreach (['stand-ins' => [$this->ports->standins, 'public'], 'private stand-ins' => [$this->ports->private, 'private']] as $name => [$port, $set]) {
            $this->add(Child::start($name, [PHP_BINARY, '-d', 'opcache.enable_cli=1', '-S', "127.0.0.1:$port", $router], ['STANDINS' => $set, 'STANDINS_STATE' => "$this->folder/standins", 'PHP_CLI_SERVER_WORKERS' => '4'], "$this->folder/log/standins.log", $this->root));
        }
        $this->awaitHttp($this->ports->standins, '/');
        ($this->say)('Preparing tables and demo data …');
        $this->artisan(['spring:prepare'], 'The database cannot be prepared');
        $this->web($webWorkers);
        foreach ([1, 2] as $number) {
            $this->worker("worker $number");
        }
        $this->add(Child::start('scheduler', $this->php('artisan', 'schedule:work', '--quiet'), $this->env, "$this->folder/log/scheduler.log", $this->root));
        $this->awaitHttp($this->ports->web, '/sign-in');
    }

    /**
     * Tables and environments alone, with nothing running but the database.
     */
    public function prepare(): void
    {
        $this->artisan(['spring:prepare', '--no-demo'], 'The database cannot be prepared');
    }

    private function web(int $workers): void
    {
        $this->add(Child::start('web', [PHP_BINARY, '-d', 'opcache.enable_cli=1', '-d', 'memory_limit=1G', '-d', 'expose_php=0', '-d', 'upload_max_filesize=64M', '-d', 'post_max_size=72M', '-d', 'max_input_vars=20000', '-S', "127.0.0.1:{$this->ports->web}", '-t', "$this->root/public", "$this->root/bootstrap/serve.php"], $this->env + ['PHP_CLI_SERVER_WORKERS' => (string) $workers], "$this->folder/log/web.log", $this->root));
    }

    private function worker(string $name): void
    {
        $this->add(Child::start($name, $this->php('artisan', 'queue:work', '--sleep=0.3', '--tries=1', '--timeout=7200', '--max-time=3600', '--memory=256'), $this->env, "$this->folder/log/worker.log", $this->root));
    }

    /**
     * Starts again what may end by itself.
     *
     * @throws Trouble when the database is gone and does not come back
     */
    public function tend(): void
    {
        foreach ($this->children as $name => $child) {
            if ($child->isAlive()) {
                continue;
            }
            $child->stop(0);
            unset($this->children[$name]);
            match (true) {
                // What stopped the database may have been somebody who will want it back; runs go on by themselves.
                $name === 'database' => $this->children = ['database' => (new MariaDb($this->folder, $this->ports->database, $this->env))->start()] + $this->children,
                str_starts_with($name, 'worker') => $this->worker($name),
                $name === 'web' => $this->web(4),
                $name === 'scheduler' => $this->add(Child::start('scheduler', $this->php('artisan', 'schedule:work', '--quiet'), $this->env, "$this->folder/log/scheduler.log", $this->root)),
                default => null,
            };
            $this->writeState(true);
        }
    }

    /**
     * @param  list<string>  $arguments
     */
    public function artisan(array $arguments, string $whenItFails): void
    {
        $log = "$this->folder/log/prepare.log";
        $process = proc_open($this->php('artisan', ...$arguments), [['file', '/dev/null', 'r'], ['file', $log, 'w'], ['file', $log, 'a']], $pipes, $this->root, $this->env + getenv());
        if (! is_resource($process) || proc_close($process) !== 0) {
            $lines = array_values(array_filter(array_map(trim(...), (array) @file($log))));

            throw new Trouble("$whenItFails: ".($lines[0] ?? 'no reason was given').". See $log.");
        }
    }

    public function stop(): void
    {
        foreach (array_reverse($this->children) as $name => $child) {
            $child->stop(match (true) {
                $name === 'database' => 30, str_starts_with($name, 'worker') => 4, default => 1.5
            });
        }
        $this->children = [];
        @unlink("$this->folder/run/state.json");
    }

    public function writeState(bool $ready): void
    {
        $children = array_map(static fn (Child $child): array => ['pid' => $child->pid, 'born' => $child->born], $this->children);
        file_put_contents("$this->folder/run/state.json", json_encode(['pid' => getmypid(), 'born' => Child::bornAt((int) getmypid()), 'ready' => $ready, 'since' => time(), 'port' => $this->ports->web, 'children' => $children]), LOCK_EX);
    }

    private function add(Child $child): void
    {
        $this->children[$child->name] = $child;
        $this->writeState(false);
    }

    private function refuseTakenPorts(): void
    {
        $port = $this->ports->taken();
        if ($port !== null) {
            throw new Trouble("Port $port is in use by another program. Stop it, or choose others with --port; ports {$this->ports->web} to {$this->ports->database} are needed.");
        }
    }

    /**
     * @return list<string>
     */
    public function php(string ...$arguments): array
    {
        return [PHP_BINARY, '-d', 'memory_limit=512M', '-d', 'opcache.enable_cli=1', ...array_values($arguments)];
    }

    private function awaitHttp(int $port, string $path): void
    {
        for ($until = microtime(true) + 30; microtime(true) < $until; usleep(30_000)) {
            $answer = @file_get_contents("http://127.0.0.1:$port$path", false, stream_context_create(['http' => ['timeout' => 5, 'ignore_errors' => true]]));
            if ($answer !== false) {
                if (str_contains($http_response_header[0] ?? '', ' 200')) {
                    return;
                }

                throw new Trouble("The server on port $port answers ".substr($http_response_header[0] ?? '', 9)."; see $this->folder/log/.");
            }
        }

        throw new Trouble("Nothing answers on port $port after 30 s; see $this->folder/log/.");
    }
}
