<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Models\KeptColumn;
use App\Reservoir\KeepFailed;
use App\Reservoir\RowPatches;
use App\Reservoir\TableShape;
use DeepSpring\Flatten\RowBatch;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;
use Illuminate\Database\QueryException;

/**
 * With statements of a few hundred rows, as the account that writes kept tables.
 */
final readonly class MariaDbRowPatches implements RowPatches
{
    private const AT_ONCE = 200;

    public function __construct(private ConnectionResolverInterface $connections)
    {
    }

    public function put(Environment $environment, array $shapes, array $key, RowBatch $batch): array
    {
        $records = array_values(array_unique(array_map(static fn (array $row): array => array_map(static fn (int $place): string => (string) $row[$place], $key[0]), $batch->rows[0]), SORT_REGULAR));

        return $this->inOne(function () use ($environment, $shapes, $key, $batch, $records): array {
            $more = array_fill(0, count($shapes), 0);
            foreach ($shapes as $number => $shape) {
                if ($number > 0) {
                    $more[$number] -= $this->delete($environment, $shape, $key[$number], $records);
                    $this->insert($environment, $shape, $batch->rows[$number] ?? []);
                    $more[$number] += count($batch->rows[$number] ?? []);
                } else {
                    $before = $this->count($environment, $shape, $key[0], $records);
                    $this->insert($environment, $shape, $batch->rows[0]);
                    $more[0] = count($records) - $before;
                }
            }

            return $more;
        });
    }

    public function remove(Environment $environment, array $shapes, array $key, array $records): array
    {
        return $this->inOne(fn (): array => array_map(fn (TableShape $shape, array $places): int => -$this->delete($environment, $shape, $places, $records), $shapes, $key));
    }

    public function set(Environment $environment, string $table, array $key, array $values): void
    {
        if ($values === []) {
            return;
        }
        $pairs = static fn (array $of, string $between, string $is): string => implode($between, array_map(static fn (string $name): string => Sql::name($name)." $is ?", array_map(strval(...), array_keys($of))));
        $this->inOne(function () use ($environment, $table, $key, $values, $pairs): array {
            $this->keeper()->update('UPDATE '.Sql::table($environment->schema(), $table)." SET {$pairs($values, ', ', '=')} WHERE {$pairs($key, ' AND ', '<=>')}", [...array_values($values), ...array_values($key)]);

            return [];
        });
    }

    /**
     * @param  list<list<string|null>>  $rows
     */
    private function insert(Environment $environment, TableShape $shape, array $rows): void
    {
        $names = array_map(static fn (KeptColumn $column): string => Sql::name($column->name), $shape->columns);
        $update = $shape->key === [] ? '' : ' ON DUPLICATE KEY UPDATE '.implode(', ', array_map(static fn (string $name): string => "$name = VALUES($name)", $names));
        $one = '('.implode(', ', array_fill(0, count($names), '?')).')';
        foreach (array_chunk($rows, self::AT_ONCE) as $some) {
            $this->keeper()->insert('INSERT INTO '.Sql::table($environment->schema(), $shape->name).' ('.implode(', ', $names).') VALUES '.implode(', ', array_fill(0, count($some), $one)).$update, array_merge(...$some));
        }
    }

    /**
     * @param  list<int>  $places
     * @param  list<list<string>>  $records
     */
    private function delete(Environment $environment, TableShape $shape, array $places, array $records): int
    {
        $gone = 0;
        foreach (array_chunk($records, self::AT_ONCE) as $some) {
            [$where, $values] = self::any($shape, $places, $some);
            $gone += $this->keeper()->delete('DELETE FROM '.Sql::table($environment->schema(), $shape->name)." WHERE $where", $values);
        }

        return $gone;
    }

    /**
     * @param  list<int>  $places
     * @param  list<list<string>>  $records
     */
    private function count(Environment $environment, TableShape $shape, array $places, array $records): int
    {
        $found = 0;
        foreach (array_chunk($records, self::AT_ONCE) as $some) {
            [$where, $values] = self::any($shape, $places, $some);
            $found += (int) ($this->keeper()->selectOne('SELECT COUNT(*) AS n FROM '.Sql::table($environment->schema(), $shape->name)." WHERE $where", $values, false)->n ?? 0);
        }

        return $found;
    }

    /**
     * @param  list<int>  $places
     * @param  non-empty-list<list<string>>  $records
     * @return array{string, list<string>}
     */
    private static function any(TableShape $shape, array $places, array $records): array
    {
        $names = array_map(static fn (int $place): string => Sql::name($shape->columns[$place]->name), $places);
        if (count($names) === 1) {
            return ["$names[0] IN (".implode(', ', array_fill(0, count($records), '?')).')', array_map(static fn (array $record): string => $record[0], $records)];
        }

        return ['('.implode(', ', $names).') IN ('.implode(', ', array_fill(0, count($records), '('.implode(', ', array_fill(0, count($names), '?')).')')).')', array_merge(...$records)];
    }

    /**
     * @param  \Closure(): list<int>  $do
     * @return list<int>
     */
    private function inOne(\Closure $do): array
    {
        try {
            return $this->keeper()->transaction($do, 3);
        } catch (QueryException $refused) {
            throw KeepFailed::because('The kept rows could not follow: '.($refused->errorInfo[2] ?? $refused->getMessage()), $refused);
        }
    }

    private function keeper(): Connection
    {
        $connection = $this->connections->connection(MariaDbTableStore::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('Kept tables need a connection to MariaDB.');
    }
}
