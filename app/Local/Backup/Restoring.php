<?php

declare(strict_types=1);

namespace App\Local\Backup;

use App\Local\Account;
use App\Local\EnvFile;
use App\Local\Folders;
use App\Local\MariaDb;
use App\Local\Ports;
use App\Local\Trouble;

/**
 * A backup → settings, keys and a database in an empty place. Addresses of the demo's stand-ins follow
 * the port.
 */
final readonly class Restoring
{
    public function __construct(private string $root, private string $file, #[\SensitiveParameter] private ?string $passphrase)
    {
    }

    /**
     * @param  \Closure(string): mixed  $say
     * @return string when it was made
     *
     * @throws Trouble
     */
    public function run(Ports $ports, \Closure $say): string
    {
        $folder = "$this->root/var";
        $account = Account::application();
        $reader = new BackupArchiveReader($this->file, $this->passphrase);
        $database = null;
        $made = '';
        $settings = [];
        $done = false;
        try {
            foreach ($reader->parts() as $name => $pieces) {
                if ($name === 'about') {
                    $made = (string) (json_decode(implode('', iterator_to_array($pieces, false)), true)['made'] ?? '');
                    (new Folders($folder, $account))->ensure();
                } elseif ($name === 'settings') {
                    $settings = $this->settings(implode('', iterator_to_array($pieces, false)), $ports, $account);
                } elseif (preg_match('~^keys/(secrets\.key(?:\.next)?)$~D', $name, $key) === 1) {
                    $this->key("$folder/keys/$key[1]", implode('', iterator_to_array($pieces, false)), $account);
                } elseif ($name === 'database.sql' || $name === 'log.sql') {
                    $say($name === 'log.sql' ? 'Putting the log back …' : 'Putting the database back …');
                    $database ??= (new MariaDb($folder, $ports->database, $settings, ['--event-scheduler=OFF']))->start();
                    $this->load($pieces, $folder, $name === 'log.sql' ? ['deep_spring_log'] : []);
                }
            }
            $this->bringUpToDate($folder, $ports, $settings);
            $done = true;
        } finally {
            $database?->stop(30);
            if (! $done) {
                // Half a backup in place is no place to start from.
                foreach (['mariadb', 'keys'] as $part) {
                    exec('rm -rf '.escapeshellarg("$folder/$part"));
                }
                @unlink("$this->root/.env");
            }
        }

        return $made;
    }

    /**
     * @return array<string, string>
     */
    private function settings(string $text, Ports $ports, Account $account): array
    {
        $old = umask(0077);
        $written = @file_put_contents("$this->root/.env", $text) === strlen($text);
        umask($old);
        if (! $written) {
            throw new Trouble("$this->root/.env cannot be written.");
        }
        $file = new EnvFile("$this->root/.env");
        $values = $file->read();
        $isOurs = preg_match('~^https?://127\.0\.0\.1:\d+$~D', $values['APP_URL'] ?? '') === 1;
        $values = $file->merge(($isOurs ? ['APP_URL' => "http://127.0.0.1:{$ports->web}"] : []) + [
            'DB_PORT' => (string) $ports->database, 'SPRING_VAR' => 'var',
            'SPRING_STANDINS' => "http://127.0.0.1:{$ports->standins}", 'SPRING_STANDINS_PRIVATE' => "http://127.0.0.1:{$ports->private}",
        ] + (isset($values['SPRING_STANDINS']) ? ['SPRING_STANDINS_BEFORE' => $values['SPRING_STANDINS'], 'SPRING_STANDINS_PRIVATE_BEFORE' => $values['SPRING_STANDINS_PRIVATE'] ?? ''] : []));
        $account->own($file->file);

        return $values;
    }

    private function key(string $path, string $text, Account $account): void
    {
        $old = umask(0077);
        file_put_contents($path, $text);
        umask($old);
        $account->own($path);
    }

    /**
     * @param  \Generator<int, string>  $pieces
     * @param  list<string>  $more  arguments of the client
     */
    private function load(\Generator $pieces, string $folder, array $more): void
    {
        $errors = tmpfile() ?: throw new Trouble('No temporary file can be made.');
        // A plain pipe, as in DatabaseDump.
        $process = proc_open(['mariadb', '--no-defaults', '--socket=server.sock', '--user='.MariaDb::caller(), '--default-character-set=utf8mb4', '--max-allowed-packet=64M', '--binary-mode', ...$more], [0 => ['pipe', 'r'], 1 => ['file', '/dev/null', 'w'], 2 => $errors], $pipes, "$folder/mariadb");
        if (! is_resource($process)) {
            throw new Trouble('The client of MariaDB cannot be started: is the package mariadb-client installed?');
        }
        $broken = false;
        foreach ($pieces as $piece) {
            if (! $broken && @fwrite($pipes[0], $piece) !== strlen($piece)) {
                $broken = true;
            }
        }
        fclose($pipes[0]);
        $code = proc_close($process);
        rewind($errors);
        $said = trim((string) stream_get_contents($errors));
        if ($code !== 0 || $broken) {
            throw new Trouble('The database did not take the backup: '.mb_strimwidth($said, 0, 300, '…'));
        }
    }

    /**
     * Runs that were under way begin again, and sources of the demo find their stand-ins.
     *
     * @param  array<string, string>  $settings
     */
    private function bringUpToDate(string $folder, Ports $ports, array $settings): void
    {
        $pdo = (new MariaDb($folder, $ports->database, $settings))->administrator();
        $pdo->exec('use deep_spring');
        $pdo->exec("update runs set state = 'queued', continuable = 0, waits_for = 'a worker, after a backup was put back', heartbeat_at = null where state = 'running'");
        $pdo->exec('delete from jobs');
        foreach (['SPRING_STANDINS_BEFORE' => $ports->standins, 'SPRING_STANDINS_PRIVATE_BEFORE' => $ports->private] as $name => $port) {
            $before = $settings[$name] ?? '';
            if (preg_match('~^http://127\.0\.0\.1:(\d+)$~D', $before, $part) !== 1 || (int) $part[1] === $port) {
                continue;
            }
            $after = "http://127.0.0.1:$port";
            foreach (['source_documents' => 'document', 'secrets' => 'origins', 'tokens' => 'origins'] as $table => $column) {
                // JSON may have its slashes escaped.
                foreach ([[$before, $after], [str_replace('/', '\\/', $before), str_replace('/', '\\/', $after)]] as $pair) {
                    $pdo->prepare("update $table set `$column` = replace(`$column`, ?, ?)")->execute($pair);
                }
            }
            $pdo->prepare("update allowed_hosts set port = ? where host = '127.0.0.1' and port = ?")->execute([$port, (int) $part[1]]);
        }
    }
}
