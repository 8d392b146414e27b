<?php

declare(strict_types=1);

namespace App\Local;

/**
 * A MariaDB server of our own on loopback, with its data below the instance's folder. Reads no
 * option file, so the machine's own service and its data are never touched.
 */
final class MariaDb
{
    private readonly string $data;

    private readonly string $log;

    /**
     * @param  array<string, string>  $env
     */
    public function __construct(private readonly string $folder, private readonly int $port, private readonly array $env)
    {
        $this->data = "$folder/mariadb";
        $this->log = "$folder/log/mariadb.log";
    }

    public function start(): Child
    {
        $this->install();
        $mark = is_file($this->log) ? (int) filesize($this->log) : 0;
        $init = "$this->folder/run/accounts.sql";
        file_put_contents($init, $this->accounts());
        chmod($init, 0600);
        $child = Child::start('database', [
            is_executable('/usr/sbin/mariadbd') ? '/usr/sbin/mariadbd' : 'mariadbd', '--no-defaults', "--datadir={$this->data}", "--port={$this->port}", '--bind-address=127.0.0.1',
            '--socket=server.sock', '--pid-file=server.pid', "--init-file=$init", "--log-error={$this->log}", '--skip-name-resolve', '--skip-log-bin',
            '--character-set-server=utf8mb4', '--collation-server=utf8mb4_nopad_bin', '--default-time-zone=+00:00', '--local-infile=1',
            '--innodb-buffer-pool-size=256M', '--innodb-log-file-size=128M', '--max-allowed-packet=64M', '--max-connections=120',
            '--secure-file-priv='.$this->data, ...$this->user(),
        ], [], $this->log, $this->data);
        try {
            $this->await($child, $mark);
        } catch (Trouble $trouble) {
            $child->stop(5);

            throw $trouble;
        } finally {
            @unlink($init);
        }

        return $child;
    }

    private function install(): void
    {
        if (is_dir("$this->data/mysql")) {
            return;
        }
        if (! is_dir($this->data)) {
            mkdir($this->data, 0700, true);
        }
        exec(implode(' ', array_map(escapeshellarg(...), ['mariadb-install-db', '--no-defaults', "--datadir={$this->data}", '--auth-root-authentication-method=normal', '--skip-test-db', ...$this->user()])).' 2>&1', $output, $code);
        if ($code !== 0) {
            throw new Trouble("MariaDB cannot set up its data in {$this->data}: ".$this->cause(implode("\n", $output)));
        }
    }

    private function await(Child $child, int $mark): void
    {
        for ($until = microtime(true) + 60; microtime(true) < $until; usleep(30_000)) {
            if (! $child->isAlive()) {
                throw new Trouble('MariaDB did not start: '.$this->cause((string) file_get_contents($this->log, offset: $mark)));
            }
            try {
                new \PDO("mysql:host=127.0.0.1;port={$this->port}", $this->env['DB_APP_USER'] ?? 'ds_app', $this->env['DB_APP_PASSWORD'], [\PDO::ATTR_TIMEOUT => 2]);

                return;
            } catch (\PDOException) {
                continue;
            }
        }

        throw new Trouble("MariaDB did not answer within 60 s; see {$this->log}.");
    }

    /**
     * Schemas and accounts, stated anew at every start.
     */
    private function accounts(): string
    {
        $sql = ["ALTER USER 'root'@'localhost' IDENTIFIED BY '{$this->env['DB_ROOT_PASSWORD']}';"];
        foreach (['deep_spring', 'deep_spring_test'] as $schema) {
            foreach (['', '_data', '_data_trial'] as $part) {
                $sql[] = "CREATE DATABASE IF NOT EXISTS `$schema$part` CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin;";
            }
        }
        foreach (['ds_app' => 'DB_APP_PASSWORD', 'ds_keeper' => 'DB_KEEPER_PASSWORD'] as $account => $password) {
            $sql[] = "CREATE USER IF NOT EXISTS '$account'@'127.0.0.1' IDENTIFIED BY '{$this->env[$password]}';";
            $sql[] = "ALTER USER '$account'@'127.0.0.1' IDENTIFIED BY '{$this->env[$password]}';";
        }
        foreach (['deep_spring', 'deep_spring_test'] as $schema) {
            $sql[] = "GRANT ALL ON `$schema`.* TO 'ds_app'@'127.0.0.1';";
            // Every environment has a schema of its own, made when it is added.
            $sql[] = 'GRANT ALL ON `'.str_replace('_', '\\_', "{$schema}_data").'%`.* TO \'ds_keeper\'@\'127.0.0.1\' WITH GRANT OPTION;';
        }
        $sql[] = "GRANT CREATE USER, CONNECTION ADMIN ON *.* TO 'ds_keeper'@'127.0.0.1';";
        $sql[] = "GRANT SELECT ON mysql.* TO 'ds_keeper'@'127.0.0.1';";

        return implode("\n", $sql)."\n";
    }

    /**
     * @return list<string>
     */
    private function user(): array
    {
        return posix_geteuid() === 0 ? ['--user=root'] : [];
    }

    private function cause(string $output): string
    {
        if (str_contains($output, 'No space left') || str_contains($output, 'errno: 28') || str_contains($output, 'Errcode: 28')) {
            return 'the disk is full.';
        }
        preg_match_all('/\[ERROR\] (.*)$|^(.*(?:ERROR|Fatal|cannot).*)$/mi', $output, $found);
        $lines = array_filter([...$found[1], ...$found[2]]);

        return ($lines === [] ? 'it ended without a word' : rtrim((string) reset($lines), '.')).". See {$this->log}.";
    }
}
