<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Reservoir\CheckedRows;
use App\Reservoir\KeptPages;
use App\Reservoir\StagedTables;
use App\Reservoir\TableStore;
use DeepSpring\Flatten\Plan;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;

/**
 * A schema for each environment, written by an account of its own.
 */
final readonly class MariaDbTableStore implements TableStore
{
    /** The connection that writes kept tables. */
    public const CONNECTION = 'keeper';

    /**
     * @param  string  $folder  for files that are being loaded
     */
    public function __construct(private ConnectionResolverInterface $connections, private string $folder)
    {
    }

    public function stage(Environment $environment, string $owner, Plan $plan): StagedTables
    {
        return new MariaDbStagedTables($this->keeper(), $environment->schema(), $owner, $plan, $this->folder);
    }

    public function checked(Environment $environment, array $tables, int $longest): CheckedRows
    {
        return CheckedTables::kept($this->keeper(), $environment, $tables, $longest);
    }

    public function discard(Environment $environment, string $owner): void
    {
        $this->tables($environment)->drop(StageNames::of($owner).'%');
    }

    public function remove(Environment $environment, string $owner, array $tables): void
    {
        $this->discard($environment, $owner);
        $this->pages($environment, $owner)->forget();
        foreach ($tables as $table) {
            $this->keeper()->statement('DROP TABLE IF EXISTS '.Sql::table($environment->schema(), $table));
        }
    }

    public function pages(Environment $environment, string $owner): KeptPages
    {
        return new MariaDbKeptPages($this->keeper(), $environment->schema(), $owner);
    }

    public function stages(Environment $environment): array
    {
        return $this->owners($environment, 'stage__%', '/^stage__([a-z0-9]+)__/');
    }

    public function keptLongerThan(Environment $environment, int $days): array
    {
        $sql = "select table_name as name, create_time < utc_timestamp() - interval ? day as is_old from information_schema.tables where table_schema = ? and table_name like 'pages\\_\\_%'";
        $kept = [];
        foreach ($this->keeper()->select($sql, [$days, $environment->schema()], false) as $table) {
            $kept[substr((string) $table->name, strlen('pages__'))] = (bool) $table->is_old;
        }

        return $kept;
    }

    public function writer(Environment $environment, string $owner): ?int
    {
        return MariaDbStagedTables::lock($this->keeper(), $environment->schema(), $owner)->holder();
    }

    public function disconnect(int $writer): void
    {
        $this->keeper()->statement("KILL CONNECTION $writer");
    }

    public function addEnvironment(Environment $environment): void
    {
        $this->keeper()->unprepared('create database if not exists '.Sql::name($environment->schema()).' character set utf8mb4 collate utf8mb4_nopad_bin');
    }

    public function dropEnvironment(Environment $environment): void
    {
        $this->keeper()->unprepared('drop database if exists '.Sql::name($environment->schema()));
    }

    public function reconnect(): void
    {
        $this->keeper()->reconnect();
    }

    /**
     * @return list<string>
     */
    private function owners(Environment $environment, string $pattern, string $name): array
    {
        $owners = [];
        foreach ($this->tables($environment)->like($pattern) as $table) {
            if (preg_match($name, $table, $part) === 1) {
                $owners[$part[1]] = true;
            }
        }

        return array_map(strval(...), array_keys($owners));
    }

    private function tables(Environment $environment): SchemaTables
    {
        return new SchemaTables($this->keeper(), $environment->schema());
    }

    private function keeper(): Connection
    {
        $connection = $this->connections->connection(self::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('The store of tables needs a connection to MariaDB.');
    }
}
