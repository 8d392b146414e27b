<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\KeptTable;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableRows;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;

/**
 * By keyset, so that nothing is held in between and the table may be replaced meanwhile.
 */
final readonly class MariaDbTableRows implements TableRows
{
    /** Rows of one statement. */
    private const AT_ONCE = 2000;

    /** The database's error for a table that is not there. */
    private const NO_TABLE = 1146;

    public function __construct(private ConnectionResolverInterface $connections)
    {
    }

    public function read(KeptTable $table, array $columns, ?array $after = null): \Generator
    {
        $key = $table->key === [] ? [TableDefinition::ROW] : $table->key;
        $names = implode(', ', array_map(Sql::name(...), [...$columns, ...$key]));
        $order = implode(', ', array_map(Sql::name(...), $key));
        $from = Sql::table($table->environment->schema(), $table->name);
        do {
            [$where, $bindings] = $after === null ? ['', []] : self::beyond($key, $after);
            $rows = $this->select("SELECT $names FROM $from $where ORDER BY $order LIMIT ".self::AT_ONCE, $bindings);
            foreach ($rows as $row) {
                $values = array_map(static fn (mixed $value): ?string => $value === null ? null : (string) $value, $row);
                $after = array_map(strval(...), array_slice($values, count($columns)));
                yield [array_slice($values, 0, count($columns)), $after];
            }
        } while (count($rows) === self::AT_ONCE);
    }

    public function withKeys(KeptTable $table, array $columns, array $keys): array
    {
        if ($keys === [] || $table->key === []) {
            return [];
        }
        $key = implode(', ', array_map(Sql::name(...), $table->key));
        $one = '('.implode(', ', array_fill(0, count($table->key), '?')).')';
        // A list of single values is found by the index whatever their number.
        $where = count($table->key) === 1 ? "$key IN (".implode(', ', array_fill(0, count($keys), '?')).')' : "($key) IN (".implode(', ', array_fill(0, count($keys), $one)).')';

        return array_map(static fn (array $row): array => array_map(static fn (mixed $value): ?string => $value === null ? null : (string) $value, $row), $this->select('SELECT '.implode(', ', array_map(Sql::name(...), $columns)).' FROM '.Sql::table($table->environment->schema(), $table->name)." WHERE $where", array_merge(...$keys)));
    }

    public function values(KeptTable $table, string $column, int $most): array
    {
        if (! in_array($column, array_column($table->columns, 'name'), true)) {
            return [];
        }
        $name = Sql::name($column);

        return array_map(static fn (array $row): string => (string) $row[0], $this->select("SELECT DISTINCT $name FROM ".Sql::table($table->environment->schema(), $table->name)." WHERE $name IS NOT NULL ORDER BY $name LIMIT $most", []));
    }

    public function distinct(KeptTable $table, array $columns): array
    {
        $names = array_map(Sql::name(...), $columns);
        $types = array_column($table->keptColumns(), 'type', 'name');
        // A number that is compared with an empty text is compared with 0.
        $there = implode(' AND ', array_map(static fn (string $column, string $name): string => "$name IS NOT NULL".($types[$column] === 'text' ? " AND $name <> ''" : ''), $columns, $names));
        $row = $this->select('SELECT COUNT(*), COALESCE(SUM(n), 0) FROM (SELECT COUNT(*) AS n FROM '.Sql::table($table->environment->schema(), $table->name)." WHERE $there GROUP BY ".implode(', ', $names).') AS g', [])[0];

        return [(int) $row[0], (int) $row[1]];
    }

    /**
     * Rows after one, in the order of the key, said so that its index serves.
     *
     * @param  non-empty-list<string>  $key
     * @param  list<string>  $after
     * @return array{string, list<string>}
     */
    private static function beyond(array $key, array $after): array
    {
        $any = [];
        $bindings = [$after[0]];
        for ($place = 0; $place < count($key); $place++) {
            $any[] = implode(' AND ', [...array_map(static fn (string $name): string => Sql::name($name).' = ?', array_slice($key, 0, $place)), Sql::name($key[$place]).' > ?']);
            array_push($bindings, ...array_slice($after, 0, $place + 1));
        }

        return ['WHERE '.Sql::name($key[0]).' >= ? AND (('.implode(') OR (', $any).'))', $bindings];
    }

    /**
     * @param  list<string>  $bindings
     * @return list<list<mixed>>
     */
    private function select(string $sql, array $bindings): array
    {
        try {
            $statement = $this->keeper()->getPdo()->prepare($sql);
            $statement->execute($bindings);

            return $statement->fetchAll(\PDO::FETCH_NUM);
        } catch (\PDOException $exception) {
            throw (int) ($exception->errorInfo[1] ?? 0) === self::NO_TABLE ? KeepFailed::because('The table is not in the database. Refresh it.', $exception) : $exception;
        }
    }

    private function keeper(): Connection
    {
        $connection = $this->connections->connection(MariaDbTableStore::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('Kept tables need a connection to MariaDB.');
    }
}
