<?php

declare(strict_types=1);

namespace App\Local;

use App\Local\Web\WebServer;
use App\Local\Web\WebSettings;
use Symfony\Component\Process\Exception\ExceptionInterface;
use Symfony\Component\Process\Process;

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

    public readonly Account $account;

    /** @var array{string, string}|null files of the certificate and its key that the web server serves with */
    private ?array $certificate = null;

    /**
     * @param  string  $var  relative to the root
     * @param  \Closure(string): void  $say  told about progress
     * @param  array<string, string>  $settings  beside those of the file, which keeps them
     */
    public function __construct(public readonly string $root, private readonly string $var, public readonly Ports $ports, private readonly \Closure $say, array $settings = [])
    {
        $this->folder = "$root/$var";
        $this->account = Account::application();
        $folders = new Folders($this->folder, $this->account);
        $folders->ensure();
        $file = new EnvFile($var === 'var' ? "$root/.env" : "{$this->folder}/env");
        $this->env = self::caches($this->folder) + $file->merge($settings + $this->address($file->read()) + [
            'DB_PORT' => (string) $ports->database,
            'SPRING_VAR' => $var,
            'SPRING_STANDINS' => "http://127.0.0.1:{$ports->standins}",
            'SPRING_STANDINS_PRIVATE' => "http://127.0.0.1:{$ports->private}",
            'SPRING_STANDINS_MAIL' => (string) $ports->mail,
        ]);
        $this->account->own($file->file);
        $folders->refuseUnreadable($root);
    }

    /**
     * What Laravel remembers of its packages, kept where the application's account may write.
     *
     * @return array<string, string>
     */
    public static function caches(string $folder): array
    {
        return ['APP_SERVICES_CACHE' => "$folder/cache/services.php", 'APP_PACKAGES_CACHE' => "$folder/cache/packages.php"];
    }

    /**
     * An address that somebody gave stays; one that an earlier start made follows the port.
     *
     * @param  array<string, string>  $before
     * @return array<string, string>
     */
    private function address(array $before): array
    {
        $isOurs = preg_match('~^https?://127\.0\.0\.1:\d+$~D', $before['APP_URL'] ?? '') === 1;

        return isset($before['APP_URL']) && ! $isOurs ? [] : ['APP_URL' => "http://127.0.0.1:{$this->ports->web}"];
    }

    /**
     * Serves https itself. The files are copied to where the web server's account can read them.
     *
     * @throws Trouble when they are no certificate and its key
     */
    public function secure(string $certificate, string $key): void
    {
        $this->certificate = ServerCertificate::install($certificate, $key, "{$this->folder}/keys", $this->account);
    }

    public function database(): void
    {
        $this->refuseTakenPorts();
        $free = @disk_free_space($this->folder);
        if ($free !== false && $free < self::FREE_BYTES) {
            throw new Trouble(sprintf('The disk is full: %d MB are free at %s, and 400 are needed.', $free / 1048576, $this->folder));
        }
        ($this->say)('Starting the database …');
        $this->add($this->server()->start());
    }

    public function server(): MariaDb
    {
        return new MariaDb($this->folder, $this->ports->database, $this->env);
    }

    /**
     * Tables, accounts and sources of the demo; the stand-ins; the web server and the workers.
     *
     * @param  list<string>  $how  options of the command that prepares the database
     * @return list<string> what the people who use it have to be told
     */
    public function application(array $how = []): array
    {
        if (! $this->hasDemo()) {
            $how = array_values(array_unique([...$how, '--no-demo']));
        }
        $router = "$this->root/standins/router.php";
        foreach (! $this->hasDemo() ? [] : ['stand-ins' => [$this->ports->standins, 'public'], 'private stand-ins' => [$this->ports->private, 'private']] as $name => [$port, $set]) {
            $this->add(Child::start($name, [PHP_BINARY, '-d', 'opcache.enable_cli=1', '-S', "127.0.0.1:$port", $router], ['STANDINS' => $set, 'STANDINS_STATE' => "$this->folder/standins", 'PHP_CLI_SERVER_WORKERS' => '4'], "$this->folder/log/standins.log", $this->root, $this->account));
        }
        if ($this->hasDemo()) {
            $this->add(Child::start('mail of the stand-ins', [PHP_BINARY, "$this->root/standins/post-room/smtp.php", (string) $this->ports->mail], ['STANDINS_STATE' => "$this->folder/standins"], "$this->folder/log/standins.log", $this->root, $this->account));
            $this->awaitHttp("http://127.0.0.1:{$this->ports->standins}/");
        }
        $this->web();
        ($this->say)('Preparing tables and demo data …');
        $said = $this->artisan(['spring:prepare', ...$how], 'The database cannot be prepared');
        foreach ([1, 2] as $number) {
            $this->worker("worker $number");
        }
        $this->scheduler();
        $this->front();
        $this->door();
        $this->awaitHttp($this->localAddress().'/up');

        return $said;
    }

    /**
     * Whether it was begun with the demo, whose services then run beside it.
     */
    public function hasDemo(): bool
    {
        return ($this->env['SPRING_DEMO'] ?? '') !== 'no';
    }

    /**
     * Where the web server is reached on this machine.
     */
    public function localAddress(): string
    {
        return ($this->certificate === null ? 'http' : 'https')."://127.0.0.1:{$this->ports->web}";
    }

    /**
     * Tables and environments alone, with nothing running but the database.
     */
    public function prepare(): void
    {
        $this->artisan(['spring:prepare', '--bare'], 'The database cannot be prepared');
    }

    private function webServer(): WebServer
    {
        return new WebServer(new WebSettings($this->root, $this->folder, '127.0.0.1', $this->ports->web, certificate: $this->certificate), $this->account, $this->env);
    }

    private function web(): void
    {
        $this->add($this->webServer()->pools());
    }

    private function front(): void
    {
        $this->add($this->webServer()->front());
    }

    private function door(): void
    {
        $door = Door::of($this->env);
        $door === null || $this->add(Child::start('door', $door->command($this->ports->database), [], "$this->folder/log/door.log", $this->root, $this->account));
    }

    private function worker(string $name): void
    {
        $this->add(Child::start($name, Roles::worker($this->root), Roles::WORKER + $this->env, "$this->folder/log/worker.log", $this->root, $this->account));
    }

    private function scheduler(): void
    {
        $this->add(Child::start('scheduler', Roles::scheduler($this->root), $this->env, "$this->folder/log/scheduler.log", $this->root, $this->account));
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
                $name === 'database' => $this->children = ['database' => $this->server()->start()] + $this->children,
                str_starts_with($name, 'worker') => $this->worker($name),
                $name === 'pools' => $this->web(),
                $name === 'web' => $this->front(),
                $name === 'scheduler' => $this->scheduler(),
                $name === 'door' => $this->door(),
                default => null,
            };
            $this->writeState(true);
        }
    }

    /**
     * @param  list<string>  $arguments
     * @return list<string> lines that it printed
     *
     * @throws Trouble
     */
    public function artisan(array $arguments, string $whenItFails): array
    {
        $log = "$this->folder/log/prepare.log";
        $process = new Process($this->account->command($this->php('artisan', ...$arguments)), $this->root, Foreground::environment($this->env), timeout: null);
        try {
            for ($process->start(); $process->isRunning();) {
                SideBySide::moment();
            }
            $code = $process->getExitCode();
        } catch (ExceptionInterface) {
            throw new Trouble("$whenItFails: PHP cannot be started.");
        }
        file_put_contents($log, $process->getErrorOutput());
        $lines = $this->lines($process->getOutput());
        if ($code !== 0) {
            throw new Trouble("$whenItFails: ".($this->lines($process->getErrorOutput())[0] ?? $lines[0] ?? "no reason was given; see $log."));
        }

        return $lines;
    }

    public function stop(): void
    {
        foreach (array_reverse($this->children) as $name => $child) {
            $child->stop(match (true) {
                $name === 'database' => 30, str_starts_with($name, 'worker') => 4, $name === 'pools' => 2.5, default => 1.5
            });
        }
        $this->children = [];
        @unlink("$this->folder/run/state.json");
    }

    public function writeState(bool $ready): void
    {
        $children = array_map(static fn (Child $child): array => ['pid' => $child->pid, 'born' => $child->born], $this->children);
        $state = json_encode(['pid' => getmypid(), 'born' => Child::bornAt((int) getmypid()), 'ready' => $ready, 'since' => time(), 'port' => $this->ports->web, 'children' => $children]);
        if (@file_put_contents("$this->folder/run/state.json.new", $state) === strlen((string) $state)) {
            rename("$this->folder/run/state.json.new", "$this->folder/run/state.json");
        }
    }

    /**
     * @return list<string> without empty ones
     */
    private function lines(string $text): array
    {
        return array_values(array_filter(array_map(trim(...), explode("\n", $text))));
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
            throw new Trouble("Port $port is in use by another program. Stop it, or choose others with --port; ports {$this->ports->web} to {$this->ports->mail} are needed.");
        }
    }

    /**
     * @return list<string>
     */
    public function php(string ...$arguments): array
    {
        return [PHP_BINARY, '-d', 'memory_limit=512M', '-d', 'opcache.enable_cli=1', ...array_values($arguments)];
    }

    private function awaitHttp(string $address): void
    {
        // Whether the certificate is one that browsers trust is not the question here.
        $context = stream_context_create(['http' => ['timeout' => 5, 'ignore_errors' => true], 'ssl' => ['verify_peer' => false, 'verify_peer_name' => false]]);
        for ($until = microtime(true) + 30; microtime(true) < $until; SideBySide::moment()) {
            $answer = @file_get_contents($address, false, $context);
            if ($answer !== false) {
                if (str_contains($http_response_header[0] ?? '', ' 200')) {
                    return;
                }

                throw new Trouble("$address answers ".substr($http_response_header[0] ?? '', 9)."; see $this->folder/log/.");
            }
        }

        throw new Trouble("Nothing answers at $address after 30 s; see $this->folder/log/.");
    }
}
