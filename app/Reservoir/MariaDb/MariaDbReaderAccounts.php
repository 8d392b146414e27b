<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Principal;
use App\Reservoir\ReaderAccounts;
use App\Secrets\Vault;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;

/**
 * Accounts of MariaDB, made when they are first needed, with a password that is derived and kept nowhere.
 */
final class MariaDbReaderAccounts implements ReaderAccounts
{
    private const ACCESS_DENIED = 1045;

    /** Of a grant on a table. */
    private const NO_SUCH_GRANT = 1147;

    /** @var array<int, int> */
    private array $connections = [];

    public function __construct(private readonly Vault $vault, private readonly ConnectionResolverInterface $databases)
    {
    }

    public function connect(Principal $principal, Environment $environment, int $seconds, array $more = [], bool $isAligned = false): \PDO
    {
        $account = $this->account($principal, $environment);
        $password = $this->vault->derive("reader $account");
        $isAligned || $this->bringRightsUpToDate($principal, $account, $password, $environment, $more);
        try {
            $pdo = $this->open($account, $password, $environment, $isAligned);
        } catch (\PDOException $refused) {
            if ((int) ($refused->errorInfo[1] ?? $refused->getCode()) !== self::ACCESS_DENIED) {
                throw $refused;
            }
            $isAligned && $this->bringRightsUpToDate($principal, $account, $password, $environment, $more);
            // The account is of before the password that is derived for it now.
            $this->keeper()->unprepared('ALTER USER '.$this->quoted($account).' IDENTIFIED BY '.$this->keeper()->getPdo()->quote($password));
            $pdo = $this->open($account, $password, $environment);
        }
        $this->connections[spl_object_id($pdo)] = (int) ($pdo->query('select connection_id()') ?: throw new \PDOException('The database does not say who asks.'))->fetchColumn();
        $pdo->exec("SET SESSION max_statement_time = $seconds, sql_mode = 'STRICT_ALL_TABLES,ONLY_FULL_GROUP_BY', time_zone = '+00:00', tx_read_only = 1");

        return $pdo;
    }

    public function align(Principal $principal, Environment $environment): void
    {
        $account = $this->account($principal, $environment);
        $this->bringRightsUpToDate($principal, $account, $this->vault->derive("reader $account"), $environment, []);
    }

    public function tell(Principal $principal, Environment $environment): void
    {
        (new ViewFunctions($this->keeper()))->set($environment, $this->account($principal, $environment), $principal->values());
    }

    private function open(string $account, #[\SensitiveParameter] string $password, Environment $environment, bool $isAligned = false): \PDO
    {
        $config = config('database.connections.keeper');

        $tls = array_diff_key($config['options'], [\PDO::MYSQL_ATTR_LOCAL_INFILE => true]);

        return new \PDO("mysql:host={$config['host']};port={$config['port']}{$this->chosen($environment, $isAligned)};charset=utf8mb4", $account, $password, $tls + [
            \PDO::ATTR_ERRMODE => \PDO::ERRMODE_EXCEPTION,
            \PDO::ATTR_EMULATE_PREPARES => true,
            \PDO::ATTR_STRINGIFY_FETCHES => true,
            \PDO::MYSQL_ATTR_MULTI_STATEMENTS => false,
            \PDO::MYSQL_ATTR_LOCAL_INFILE => false,
            \PDO::MYSQL_ATTR_USE_BUFFERED_QUERY => false,
        ]);
    }

    public function number(\PDO $pdo): ?int
    {
        return $this->connections[spl_object_id($pdo)] ?? null;
    }

    public function stop(int $number): void
    {
        try {
            $this->keeper()->unprepared("KILL QUERY $number");
        } catch (\Illuminate\Database\QueryException) {
            // It has ended by itself.
        }
    }

    public function abandon(\PDO $pdo): void
    {
        $id = $this->connections[spl_object_id($pdo)] ?? null;
        if ($id !== null) {
            unset($this->connections[spl_object_id($pdo)]);
            try {
                $this->keeper()->unprepared("KILL CONNECTION $id");
            } catch (\Illuminate\Database\QueryException) {
                // It has ended by itself.
            }
        }
    }

    public function withdraw(Principal $principal, Environment $environment, array $tables): void
    {
        $who = $this->quoted($this->account($principal, $environment));
        foreach ($tables as $table) {
            try {
                $this->keeper()->unprepared('REVOKE ALL PRIVILEGES ON '.Sql::table($environment->schema(), $table)." FROM $who");
            } catch (\Illuminate\Database\QueryException $refused) {
                if (($refused->errorInfo[1] ?? null) !== self::NO_SUCH_GRANT) {
                    throw $refused;
                }
            }
        }
    }

    /**
     * The right to make a view of that name, or to make it say something else; and its end.
     */
    public function letDefine(Principal $principal, Environment $environment, string $view, bool $may, string $sql = ''): void
    {
        $on = Sql::table($environment->schema(), $view);
        $who = $this->quoted($this->account($principal, $environment));
        if ($may) {
            $this->keeper()->unprepared("GRANT CREATE VIEW, DROP ON $on TO $who");
            (new ViewFunctions($this->keeper()))->letCall($environment, $who, $sql);

            return;
        }
        try {
            $this->keeper()->unprepared("REVOKE CREATE VIEW, DROP ON $on FROM $who");
        } catch (\Illuminate\Database\QueryException $refused) {
            if (($refused->errorInfo[1] ?? null) !== self::NO_SUCH_GRANT) {
                throw $refused;
            }
        }
    }

    public function drop(Principal $principal): void
    {
        foreach (Environment::query()->get() as $environment) {
            $this->keeper()->statement('DROP USER IF EXISTS '.$this->quoted($this->account($principal, $environment)));
        }
    }

    /**
     * @param  list<string>  $more
     */
    private function bringRightsUpToDate(Principal $principal, string $account, #[\SensitiveParameter] string $password, Environment $environment, array $more): void
    {
        $keeper = $this->keeper();
        $who = $this->quoted($account);
        (new AccountRights($keeper))->align($principal, $account, $this->host(), $environment, $more, static function () use ($keeper, $who, $password, $principal): void {
            $keeper->unprepared("CREATE USER IF NOT EXISTS $who");
            $keeper->unprepared("ALTER USER $who IDENTIFIED BY ".$keeper->getPdo()->quote($password)." WITH MAX_USER_CONNECTIONS {$principal->atOnce()}");
        });
    }

    /**
     * An account with no table to read may not choose the schema.
     */
    private function chosen(Environment $environment, bool $isAligned): string
    {
        return $isAligned || KeptTable::query()->where('environment_id', $environment->id)->exists() ? ";dbname={$environment->schema()}" : '';
    }

    private function account(Principal $principal, Environment $environment): string
    {
        return 'ds_'.substr(hash('xxh32', $environment->schema()), 0, 8).'_reader_'.$principal->account();
    }

    private function quoted(string $account): string
    {
        return AccountRights::quoted($account, $this->host());
    }

    /**
     * From where readers connect, as the database sees it.
     */
    private function host(): string
    {
        $host = (string) config('database.connections.keeper.client_host');

        return preg_match('/^[A-Za-z0-9.:%_\/-]{1,120}$/D', $host) === 1 ? $host : throw new \LogicException('DB_CLIENT_HOST is no host.');
    }

    private function keeper(): Connection
    {
        $connection = $this->databases->connection(MariaDbTableStore::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('Reader accounts need a connection to MariaDB.');
    }
}
