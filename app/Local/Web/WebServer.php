<?php

declare(strict_types=1);

namespace App\Local\Web;

use App\Local\Account;
use App\Local\Child;
use App\Local\Roles;
use App\Local\Trouble;
use Symfony\Component\Process\Exception\ProcessTimedOutException;
use Symfony\Component\Process\Process;

/**
 * nginx and PHP-FPM, started with the configuration that is written for them.
 */
final readonly class WebServer
{
    /**
     * @param  array<string, string>  $env  for the application
     */
    public function __construct(private WebSettings $settings, private Account $account, private array $env)
    {
    }

    public function pools(): Child
    {
        $folder = $this->settings->folder;
        foreach (['pages', 'slow'] as $pool) {
            $socket = $this->settings->socket($pool);
            if (! is_dir(dirname($socket))) {
                mkdir(dirname($socket), 0700, true);
            }
            $this->account->own(dirname($socket));
            @unlink($socket);
        }
        $env = $this->remembered();
        $config = $this->write('run/fpm.conf', (new FpmConfig($this->settings))->text());
        $opcache = [
            '-d', 'opcache.enable=1', '-d', 'opcache.memory_consumption=96', '-d', 'opcache.interned_strings_buffer=16',
            '-d', 'opcache.max_accelerated_files=16000', '-d', 'opcache.revalidate_freq=2', '-d', 'realpath_cache_size=4M',
            ...$this->preloaded($env),
        ];
        // A file that is in the cache of the processes only: nothing is left behind that could be of another version.
        $child = Child::start('pools', [self::binary(['php-fpm8.2', 'php-fpm'], 'PHP-FPM'), '--nodaemonize', '--fpm-config', $config, ...$opcache], $env, "$folder/log/fpm.log", $this->settings->root, $this->account);
        for ($until = microtime(true) + 15; ! file_exists($this->settings->socket('slow')); usleep(10_000)) {
            clearstatcache();
            if (! $child->isAlive() || microtime(true) > $until) {
                throw new Trouble("PHP-FPM did not start: {$this->lastLine("$folder/log/fpm.log")}");
            }
        }

        return $child;
    }

    public function front(): Child
    {
        $folder = $this->settings->folder;
        $config = $this->write('run/nginx.conf', (new NginxConfig($this->settings))->text());
        $nginx = self::binary(['nginx'], 'nginx');

        return Child::start('web', [$nginx, '-p', $folder, '-c', $config, '-e', "$folder/log/nginx.log"], [], "$folder/log/nginx.log", $folder, $this->account);
    }

    /**
     * Settings and routes as one file each, which spares every request a third of its time. They are
     * made at each start, for the processes of the web server alone.
     *
     * @return array<string, string> where these find them
     */
    private function remembered(): array
    {
        $cache = "{$this->settings->folder}/cache";
        $env = ['APP_CONFIG_CACHE' => "$cache/config.php", 'APP_ROUTES_CACHE' => "$cache/routes.php", 'APP_EVENTS_CACHE' => "$cache/events.php"] + $this->env;
        foreach (['config', 'routes', 'events'] as $name) {
            @unlink("$cache/$name.php");
        }
        foreach (['config:cache', 'route:cache', 'event:cache'] as $command) {
            $process = new Process($this->account->command(Roles::php("{$this->settings->root}/artisan", $command)), $this->settings->root, $env, timeout: 60);
            if ($process->run() !== 0) {
                throw new Trouble('The settings cannot be read: '.trim((string) strtok(trim($process->getErrorOutput().$process->getOutput()), "\n")));
            }
        }

        return $env;
    }

    /**
     * The classes of packages that nearly every request needs are loaded once, which spares a request a third of its time.
     * Without them everything works the same.
     *
     * @param  array<string, string>  $env
     * @return list<string> settings of PHP
     */
    private function preloaded(array $env): array
    {
        $process = new Process($this->account->command(Roles::php("{$this->settings->root}/artisan", 'spring:classes')), $this->settings->root, $env, timeout: 60);
        try {
            $files = $process->run() === 0 ? json_decode($process->getOutput(), true) : null;
        } catch (ProcessTimedOutException) {
            $files = null;
        }
        if (! is_array($files) || $files === []) {
            return [];
        }
        $file = $this->write('cache/preload.php', "<?php\n\n\$files = ".var_export($files, true).<<<'PHP'
            ;
            // What cannot be linked by itself is left to whoever needs it, and is no news.
            error_reporting(0);
            foreach ($files as $file) {
                is_file($file) && opcache_compile_file($file);
            }

            PHP);

        return ['-d', "opcache.preload=$file"];
    }

    private function write(string $below, string $text): string
    {
        $file = "{$this->settings->folder}/$below";
        if (@file_put_contents($file, $text) === false) {
            throw new Trouble("$file cannot be written: is the disk full, or the folder not yours?");
        }
        chmod($file, 0600);
        $this->account->own($file);

        return $file;
    }

    private function lastLine(string $file): string
    {
        $lines = array_filter(array_map(trim(...), (array) @file($file)));

        return $lines === [] ? "it ended without a word; see $file." : end($lines);
    }

    /**
     * @param  list<string>  $names
     */
    private static function binary(array $names, string $what): string
    {
        foreach ($names as $name) {
            foreach (['/usr/sbin', '/usr/local/sbin', '/usr/bin', '/usr/local/bin'] as $folder) {
                if (is_executable("$folder/$name")) {
                    return "$folder/$name";
                }
            }
        }

        throw new Trouble("$what is not installed.");
    }
}
