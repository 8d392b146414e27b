<?php

declare(strict_types=1);

namespace App\Local;

/**
 * A MariaDB server of our own on loopback, with its data below the instance's folder. Reads no
 * option file, so the machine's own service and its data are never touched, and never runs as root.
 */
final class MariaDb
{
    /** In the folder of the data, and no schema. */
    private const TEMPORARY = 'temporary';

    /** There are some 600; fewer are left by a start that was ended in the middle. */
    private const SOME_ZONES = 400;

    private const ZONES = '/usr/share/zoneinfo';

    private readonly string $data;

    private readonly string $log;

    private readonly Account $account;

    /**
     * @param  array<string, string>  $env
     * @param  list<string>  $more  options of the server
     */
    public function __construct(private readonly string $folder, private readonly int $port, private readonly array $env, private readonly array $more = [])
    {
        $this->data = "$folder/mariadb";
        $this->log = "$folder/log/mariadb.log";
        $this->account = Account::database();
    }

    /**
     * @throws Trouble when it does not start, or an account would let somebody in without a proof
     */
    public function start(): Child
    {
        $this->install();
        $this->ownTemporaryFolder();
        $mark = is_file($this->log) ? (int) filesize($this->log) : 0;
        $init = "{$this->data}/accounts.sql";
        file_put_contents($init, DatabaseAccounts::sql($this->env));
        [$certificate, $key] = DoorCertificate::make($this->data, array_filter([Door::read($this->env['SPRING_DOOR'] ?? '')?->address]), $this->account);
        chmod($init, 0600);
        $this->account->own($init);
        $child = Child::start('database', [
            is_executable('/usr/sbin/mariadbd') ? '/usr/sbin/mariadbd' : 'mariadbd', '--no-defaults', "--datadir={$this->data}", "--port={$this->port}", '--bind-address=127.0.0.1',
            '--socket=server.sock', '--pid-file=server.pid', "--init-file=$init", '--skip-name-resolve', '--skip-log-bin',
            '--character-set-server=utf8mb4', '--collation-server=utf8mb4_nopad_bin', '--default-time-zone=+00:00', '--local-infile=1',
            '--innodb-buffer-pool-size=256M', '--innodb-log-file-size=128M', '--max-allowed-packet=64M', '--max-connections=150', '--event-scheduler=ON', '--userstat=ON',
            '--secure-file-priv='.$this->data, "--tmpdir={$this->data}/".self::TEMPORARY, '--ignore-db-dirs='.self::TEMPORARY, "--ssl-cert=$certificate", "--ssl-key=$key", "--ssl-ca=$certificate", '--tls-version=TLSv1.2,TLSv1.3', ...$this->more,
        ], [], $this->log, $this->data, $this->account);
        try {
            $this->await($child, $mark);
            $this->closeDoors();
            copy($certificate, "$this->folder/door.crt");
            chmod("$this->folder/door.crt", 0644);
            $this->knowZones();
        } catch (Trouble $trouble) {
            $child->stop(20);

            throw $trouble;
        } finally {
            @unlink($init);
        }

        return $child;
    }

    /**
     * Accounts that need neither a password nor to be the right account of the system.
     *
     * @return list<string> like `root@127.0.0.1`
     *
     * @throws Trouble when the server does not let its own administrator in
     */
    public function openDoors(): array
    {
        $rows = $this->administrator()->query("select concat(User, '@', Host) as who, Priv as priv from mysql.global_priv") ?: throw new Trouble('MariaDB does not list its accounts.');
        $open = [];
        foreach ($rows as ['who' => $who, 'priv' => $priv]) {
            if (DatabaseAccounts::isOpen((array) json_decode((string) $priv, true))) {
                $open[] = (string) $who;
            }
        }

        return $open;
    }

    /**
     * Data of an earlier version have accounts of the installation that nobody needs.
     */
    private function closeDoors(): void
    {
        $pdo = $this->administrator();
        foreach ($this->openDoors() as $who) {
            [$user, $host] = explode('@', $who, 2);
            $pdo->exec('drop user if exists '.$pdo->quote($user).'@'.$pdo->quote($host));
        }
        if ($this->openDoors() !== []) {
            throw new Trouble('The database would let '.implode(', ', $this->openDoors()).' in without a password. See docs/operations.md.');
        }
    }

    /**
     * Zones by name, for CONVERT_TZ ("Time Zones" of MariaDB's manual, "mysql Time Zone Tables").
     */
    private function knowZones(): void
    {
        $pdo = $this->administrator();
        if (! is_dir(self::ZONES) || (int) $pdo->query('select count(*) from mysql.time_zone_name')->fetchColumn() > self::SOME_ZONES) {
            return;
        }
        $sql = [];
        exec('mariadb-tzinfo-to-sql '.escapeshellarg(self::ZONES).' 2>/dev/null', $sql);
        $pdo->exec('use mysql');
        $pdo->exec('lock tables time_zone write, time_zone_name write, time_zone_transition write, time_zone_transition_type write');
        $text = explode('execute immediate', strstr(implode("\n", $sql), 'INSERT INTO time_zone ') ?: '')[0];
        $text = preg_replace('~^(?:/\*M!|UNLOCK|COMMIT|TRUNCATE|SET (?!@time_zone_id)).*$~mi', '', $text) ?? '';
        array_map(static fn (string $table): int|false => $pdo->exec("delete from $table"), ['time_zone', 'time_zone_name', 'time_zone_transition', 'time_zone_transition_type']);
        foreach (preg_split('/^INSERT INTO time_zone \(/m', $text) ?: [] as $number => $zone) {
            // The folder has all of them twice more, with leap seconds and without.
            if ($number > 0 && preg_match("~\\('(?:posix|right)/~", $zone) !== 1) {
                // Each result is taken, so that a fault in any of them is seen.
                for ($result = $pdo->query("INSERT INTO time_zone ($zone"); $result !== false && $result->nextRowset();) {
                    continue;
                }
            }
        }
        $pdo->exec('unlock tables');
    }

    /**
     * A connection that may do everything, over the socket in its folder, which only whoever started
     * the database gets.
     */
    public function administrator(): \PDO
    {
        $from = getcwd();
        // The path of a socket has at most some hundred characters; a folder's may be longer.
        chdir($this->data);
        try {
            return new \PDO('mysql:unix_socket=server.sock;charset=utf8mb4', self::caller(), null, [\PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION, \PDO::ATTR_TIMEOUT => 5]);
        } catch (\PDOException $refused) {
            throw new Trouble("The database does not let its administrator in: {$refused->getMessage()}.");
        } finally {
            chdir($from === false ? '/' : $from);
        }
    }

    /**
     * A server that starts deletes temporary tables of another one in the same folder.
     */
    private function ownTemporaryFolder(): void
    {
        $folder = "$this->data/".self::TEMPORARY;
        is_dir($folder) || mkdir($folder, 0700);
        $this->account->own($folder);
    }

    private function install(): void
    {
        $this->account->reach($this->folder);
        if (is_dir("$this->data/mysql")) {
            // An earlier version ran it as root.
            $this->account->own($this->data);
            chmod($this->data, 0700);

            return;
        }
        if (! is_dir($this->data)) {
            mkdir($this->data, 0700, true);
        }
        chmod($this->data, 0700);
        $this->account->own($this->data);
        $this->ownTemporaryFolder();
        $command = $this->account->command(['mariadb-install-db', '--no-defaults', "--datadir={$this->data}", '--auth-root-authentication-method=socket', '--auth-root-socket-user='.self::caller(), '--skip-test-db', '--skip-name-resolve']);
        exec('cd '.escapeshellarg($this->data).' && TMPDIR='.escapeshellarg("$this->data/".self::TEMPORARY).' '.implode(' ', array_map(escapeshellarg(...), $command)).' 2>&1', $output, $code);
        if ($code !== 0) {
            throw new Trouble("MariaDB cannot set up its data in {$this->data}: ".$this->cause(implode("\n", $output)));
        }
    }

    public static function caller(): string
    {
        return (string) (posix_getpwuid(posix_geteuid())['name'] ?? '');
    }

    private function await(Child $child, int $mark): void
    {
        for ($until = microtime(true) + 60; microtime(true) < $until; SideBySide::moment()) {
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
