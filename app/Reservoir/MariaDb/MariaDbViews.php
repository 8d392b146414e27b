<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Models\Principal;
use App\Reservoir\KeyCounts;
use App\Reservoir\Views;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;

/**
 * Views with SQL SECURITY DEFINER, made by the owner's own account, which may do that for this one name and
 * only while it is being made. So the database itself holds a view to what its owner may read.
 */
final readonly class MariaDbViews implements Views
{
    /** Seconds. */
    private const LONGEST = 10;

    public function __construct(private MariaDbReaderAccounts $accounts, private ConnectionResolverInterface $connections)
    {
    }

    public function define(Principal $owner, Environment $environment, string $name, array $columns, string $sql): void
    {
        $isNew = ! $this->exists($environment, $name);
        $view = Sql::table($environment->schema(), $name);
        $owners = $this->accounts->connect($owner, $environment, self::LONGEST);
        if ($isNew) {
            // A right can only be given on what is there.
            $this->keeper()->unprepared("CREATE SQL SECURITY INVOKER VIEW $view AS SELECT NULL AS nothing");
        }
        try {
            $this->accounts->letDefine($owner, $environment, $name, true, $sql);
            $owners->exec('SET SESSION tx_read_only = 0');
            $owners->exec("CREATE OR REPLACE SQL SECURITY DEFINER VIEW $view (".implode(', ', array_map(Sql::name(...), $columns)).") AS $sql");
        } catch (\PDOException $refused) {
            $isNew && $this->drop($environment, $name);

            throw $refused;
        } finally {
            $this->accounts->letDefine($owner, $environment, $name, false);
        }
    }

    public function drop(Environment $environment, string $name): void
    {
        $this->keeper()->unprepared('DROP VIEW IF EXISTS '.Sql::table($environment->schema(), $name));
    }

    public function exists(Environment $environment, string $name): bool
    {
        return $this->keeper()->selectOne('select 1 from information_schema.tables where table_schema = ? and table_name = ? and table_type = ?', [$environment->schema(), $name, 'VIEW'], false) !== null;
    }

    public function counts(Environment $environment, string $name, array $columns): KeyCounts
    {
        $names = array_map(Sql::name(...), $columns);
        $isEmpty = implode(' OR ', array_map(static fn (string $column): string => "$column IS NULL", $names));
        $found = $this->keeper()->selectOne("SELECT COUNT(*) AS n, COALESCE(SUM($isEmpty), 0) AS e, COUNT(DISTINCT ".implode(', ', $names).') AS d FROM '.Sql::table($environment->schema(), $name), [], false);

        return new KeyCounts((int) ($found->n ?? 0), (int) ($found->e ?? 0), (int) ($found->d ?? 0));
    }

    private function keeper(): Connection
    {
        $connection = $this->connections->connection(MariaDbTableStore::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('Views need a connection to MariaDB.');
    }
}
