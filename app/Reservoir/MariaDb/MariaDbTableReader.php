<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Reservoir\KeepFailed;
use App\Reservoir\Order;
use App\Reservoir\StatementPlan;
use App\Reservoir\TablePage;
use App\Reservoir\TableReader;
use DeepSpring\Indexing\TableUse;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;

/**
 * Rows of a kept table by keyset: a page starts after the last row of the one before, found by its
 * key, so a page far down costs what the first one costs and nothing is counted.
 */
final readonly class MariaDbTableReader implements TableReader
{
    /** Seconds. */
    private const LONGEST = 10;

    public function __construct(private ConnectionResolverInterface $connections)
    {
    }

    public function page(KeptTable $table, Order $order, ?string $mark, string $search = ''): TablePage
    {
        $columns = $table->keptColumns();
        $names = array_map(static fn (KeptColumn $column): string => $column->name, $columns);
        $sort = $order->column !== null && in_array($order->column, $names, true) ? $order->column : null;
        $key = $table->key === [] ? [TableDefinition::ROW] : $table->key;
        $by = $sort === null || $key === [$sort] ? $key : [$sort, ...array_values(array_diff($key, [$sort]))];
        [$backwards, $values] = $this->mark($mark, count($by));
        $descending = $order->descending !== $backwards;

        $where = [];
        $bindings = [];
        if ($search !== '') {
            [$condition, $more] = $this->holding($columns, $search);
            $where[] = $condition;
            array_push($bindings, ...$more);
        }
        if ($values !== null) {
            [$condition, $more] = $this->beyond($by, $values, $descending);
            $where[] = $condition;
            array_push($bindings, ...$more);
        }
        $direction = $descending ? 'desc' : 'asc';
        $sql = 'select '.implode(', ', array_map(Sql::name(...), array_unique([...$names, ...$by])))
            .' from '.Sql::table($table->environment->schema(), $table->name)
            .($where === [] ? '' : ' where '.implode(' and ', $where))
            .' order by '.implode(', ', array_map(static fn (string $name): string => Sql::name($name)." $direction", $by))
            .' limit '.(self::SIZE + 1);

        $found = $this->select($sql, $bindings);
        $more = count($found) > self::SIZE;
        $found = array_slice($found, 0, self::SIZE);
        if ($backwards) {
            $found = array_reverse($found);
        }
        $markOf = static fn (?object $row, string $way): ?string => $row === null ? null : $way.self::encoded(array_map(static fn (string $name): ?string => $row->{$name} === null ? null : (string) $row->{$name}, $by));

        $own = static fn (object $row): string => self::encoded(array_map(static fn (string $name): ?string => $row->{$name} === null ? null : (string) $row->{$name}, $key));
        $plan = $sort === null ? null : new StatementPlan([new TableUse($table->name, sorted: array_map(strval(...), $by), read: $names)], $this->indexes($table, $sql, $bindings), [$table->name]);

        return new TablePage(
            array_map(static fn (object $row): array => array_map(static fn (string $name): ?string => $row->{$name} === null ? null : (string) $row->{$name}, $names), $found),
            ($backwards ? $more : $values !== null) ? $markOf($found[0] ?? null, 'b') : null,
            ($backwards ? true : $more) ? $markOf($found === [] ? null : end($found), 'a') : null,
            $plan,
            array_map($own, $found),
        );
    }

    public function row(KeptTable $table, string $mark): ?array
    {
        $key = $table->key === [] ? [TableDefinition::ROW] : $table->key;
        $values = self::decoded($mark);
        if ($values === null || count($values) !== count($key)) {
            return null;
        }
        $names = array_map(static fn (KeptColumn $column): string => $column->name, $table->keptColumns());
        $row = $this->select('select '.implode(', ', array_map(Sql::name(...), $names)).' from '.Sql::table($table->environment->schema(), $table->name).' where '.implode(' and ', array_map(static fn (string $name): string => Sql::name($name).' <=> ?', $key)).' limit 1', $values)[0] ?? null;

        return $row === null ? null : array_map(static fn (mixed $value): ?string => $value === null ? null : (string) $value, array_combine($names, array_map(static fn (string $name): mixed => $row->{$name}, $names)));
    }

    public function marksOf(KeptTable $table, array $values, int $most): array
    {
        $key = $table->key === [] ? [TableDefinition::ROW] : $table->key;
        $known = array_intersect_key($values, array_flip(array_map(static fn (KeptColumn $column): string => $column->name, $table->keptColumns())));
        $where = $known === [] ? '' : ' where '.implode(' and ', array_map(static fn (string $name): string => Sql::name($name).' <=> ?', array_map(strval(...), array_keys($known))));
        $rows = $this->select('select '.implode(', ', array_map(Sql::name(...), $key)).' from '.Sql::table($table->environment->schema(), $table->name)."$where limit $most", array_values($known));

        return array_map(static fn (object $row): string => self::encoded(array_map(static fn (string $name): ?string => $row->{$name} === null ? null : (string) $row->{$name}, $key)), $rows);
    }

    /**
     * @param  list<string|null>  $values
     */
    private static function encoded(array $values): string
    {
        return rtrim(strtr(base64_encode((string) json_encode($values)), '+/', '-_'), '=');
    }

    /**
     * @return list<string|null>|null
     */
    private static function decoded(string $mark): ?array
    {
        $values = json_decode((string) base64_decode(strtr($mark, '-_', '+/'), true), true);

        return is_array($values) ? array_map(static fn (mixed $value): ?string => is_scalar($value) ? (string) $value : null, array_values($values)) : null;
    }

    public function found(KeptTable $table, string $search): ?int
    {
        [$condition, $bindings] = $this->holding($table->keptColumns(), $search);
        try {
            return (int) ($this->select('select count(*) as n from '.Sql::table($table->environment->schema(), $table->name)." where $condition", $bindings)[0]->n ?? 0);
        } catch (KeepFailed) {
            return null;
        }
    }

    /**
     * Rows with a text in some column.
     *
     * @param  list<KeptColumn>  $columns
     * @return array{string, list<string>}
     */
    private function holding(array $columns, string $search): array
    {
        $texts = array_filter($columns, static fn (KeptColumn $column): bool => $column->type !== 'json');
        $any = implode(' or ', array_map(static fn (KeptColumn $column): string => 'convert('.Sql::name($column->name).' using utf8mb4) collate utf8mb4_general_ci like ?', $texts));

        return [$any === '' ? '0' : "($any)", array_fill(0, count($texts), '%'.addcslashes($search, '%_\\').'%')];
    }

    /**
     * Which indexes serve a page.
     *
     * @param  list<string>  $bindings
     * @return array<string, list<list<string>>> columns, by the name of the table
     */
    private function indexes(KeptTable $table, string $sql, array $bindings): array
    {
        $indexes = [];
        foreach ($this->keeper()->select("explain $sql", $bindings, false) as $step) {
            if (IndexName::isOne((string) ($step->key ?? ''))) {
                $indexes[$table->name][] = IndexName::columns($this->keeper()->getPdo(), $table->environment->schema(), $table->name, (string) $step->key);
            }
        }

        return $indexes;
    }

    /**
     * Rows that come after these values in this order. Null comes first when ascending.
     *
     * @param  list<string>  $by
     * @param  list<string|null>  $values
     * @return array{string, list<string>}
     */
    private function beyond(array $by, array $values, bool $descending): array
    {
        $any = [];
        $bindings = [];
        $same = '';
        $sameBindings = [];
        foreach ($by as $place => $name) {
            $column = Sql::name($name);
            $value = $values[$place];
            $step = match (true) {
                $value === null => $descending ? '0' : "$column is not null",
                $descending => "($column < ? or $column is null)",
                default => "$column > ?",
            };
            $any[] = $same.$step;
            array_push($bindings, ...$sameBindings, ...($value === null ? [] : [$value]));
            $same .= $value === null ? "$column is null and " : "$column = ? and ";
            if ($value !== null) {
                $sameBindings[] = $value;
            }
        }

        // Where an index can begin is said besides.
        $begins = $values[0] !== null && ! $descending;

        return ['(('.implode(') or (', $any).'))'.($begins ? ' and '.Sql::name($by[0]).' >= ?' : ''), $begins ? [...$bindings, $values[0]] : $bindings];
    }

    /**
     * @return array{bool, list<string|null>|null} whether to read backwards, and from which row
     */
    private function mark(?string $mark, int $columns): array
    {
        if ($mark === null || $mark === '') {
            return [false, null];
        }
        $values = self::decoded(substr($mark, 1));
        if ($values === null || count($values) !== $columns || ! in_array($mark[0], ['a', 'b'], true)) {
            return [false, null];
        }

        return [$mark[0] === 'b', $values];
    }

    /**
     * @param  list<string|null>  $bindings
     * @return list<object>
     */
    private function select(string $sql, array $bindings): array
    {
        try {
            return array_values($this->keeper()->select('set statement max_statement_time = '.self::LONGEST." for $sql", $bindings, false));
        } catch (\Illuminate\Database\QueryException $exception) {
            throw match ((int) ($exception->errorInfo[1] ?? 0)) {
                1969 => KeepFailed::because('This took longer than '.self::LONGEST.' s and was stopped. Sort by a key column, or search in a query with a condition.', $exception),
                1146 => KeepFailed::because('The table is not in the database. Refresh it.', $exception),
                default => $exception,
            };
        }
    }

    private function keeper(): Connection
    {
        $connection = $this->connections->connection(MariaDbTableStore::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('Kept tables need a connection to MariaDB.');
    }
}
