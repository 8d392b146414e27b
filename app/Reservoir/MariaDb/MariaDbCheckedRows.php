<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\CheckCount;
use App\Reservoir\CheckedRows;
use DeepSpring\Check\ColumnSeen;
use DeepSpring\Check\Every;
use DeepSpring\Check\Matches;
use DeepSpring\Check\NeverEmpty;
use DeepSpring\Check\Newest;
use DeepSpring\Check\OneOf;
use DeepSpring\Check\Range;
use DeepSpring\Check\Refers;
use DeepSpring\Check\RowCount;
use DeepSpring\Check\TableCheck;
use DeepSpring\Check\Unique;
use Illuminate\Database\Connection;
use Illuminate\Database\LostConnectionDetector;
use Illuminate\Database\QueryException;

/**
 * Rules as conditions of SQL. What single values decide is counted in one reading of a table; a condition in the
 * language of computed columns is looked at row by row, here.
 *
 * In one piece, since each kind of rule is one condition, and all of them are counted, shown and left out by it.
 */
final readonly class MariaDbCheckedRows implements CheckedRows
{
    /** Rows that are left out with one statement. */
    private const AT_ONCE = 500;

    /** Different values of a text that are looked at. */
    private const VALUES = 200;

    /**
     * @param  array<string, CheckedTableNames>  $tables  by their names in the source file, the main one first
     * @param  \Closure(string, string): (array{string, string, string}|string)  $other  a column of a table that is kept → the quoted table, the quoted column, its type; or why there is none
     * @param  \Closure(): void|null  $changed  told when rows were left out
     * @param  int|null  $longest  seconds of a statement
     */
    public function __construct(private Connection $keeper, private array $tables, private \Closure $other, private ?\Closure $changed = null, private ?int $longest = null)
    {
    }

    public function count(array $checks): array
    {
        $counts = [];
        $together = [];
        foreach ($checks as $place => $check) {
            $missing = $this->missing($check);
            if ($missing !== null) {
                $counts[$place] = CheckCount::unknown($missing);
            } elseif ($check->check instanceof Matches || $check->check instanceof Refers) {
                $counts[$place] = $this->alone($check);
            } elseif ($check->check instanceof Every) {
                $counts[$place] = $this->rowByRow($check);
            } else {
                $together[$check->table][$place] = $check;
            }
        }
        foreach ($together as $table => $some) {
            $counts += $this->together($this->tables[$table], $some);
        }
        ksort($counts);

        return array_values($counts);
    }

    public function concerned(TableCheck $check, int $most): array
    {
        $table = $this->tables[$check->table] ?? null;
        if ($table === null || $this->missing($check) !== null || ! $check->check->isOfRows()) {
            return [];
        }
        $columns = implode(', ', array_map(static fn (string $name): string => 's.'.Sql::name($name), $table->columns));
        $order = implode(', ', array_map(static fn (string $name): string => 's.'.Sql::name($name), $check->check instanceof Unique ? [...array_map(static fn (string $name): string => $table->columns[$name], $check->check->columns()), ...$table->identity()] : $table->identity()));
        $found = [];
        foreach ($this->conditions($check, $most) as [$condition, $bindings]) {
            foreach ($this->select("SELECT $columns FROM $table->table s WHERE $condition ORDER BY $order LIMIT ".($most - count($found)), $bindings) as $row) {
                $found[] = array_combine(array_keys($table->columns), array_map(static fn (mixed $value): ?string => $value === null ? null : (string) $value, array_values((array) $row)));
            }
            if (count($found) >= $most) {
                break;
            }
        }

        return $found;
    }

    public function leaveOut(TableCheck $check): int
    {
        $table = $this->tables[$check->table] ?? null;
        if ($table === null || $this->missing($check) !== null) {
            return 0;
        }
        $isMain = $check->table === array_key_first($this->tables);
        $left = 0;
        foreach ($this->conditions($check) as [$condition, $bindings]) {
            foreach ($isMain ? array_slice($this->tables, 1) : [] as $branch) {
                $on = implode(' AND ', array_map(static fn (string $its, string $key): string => 'b.'.Sql::name($its).' = s.'.Sql::name($key), $branch->record, $table->key));
                $this->keeper->delete("DELETE b FROM $branch->table b JOIN $table->table s ON $on WHERE $condition", $bindings);
            }
            $left += $this->keeper->delete("DELETE s FROM $table->table s WHERE $condition", $bindings);
        }
        $left === 0 || $this->changed === null || ($this->changed)();

        return $left;
    }

    public function seen(string $table, int $most): array
    {
        $names = $this->tables[$table] ?? null;
        if ($names === null) {
            return [];
        }
        $columns = array_filter($names->columns, static fn (string $given): bool => ! in_array($given, $names->masked, true) && $names->types[$given] !== 'json', ARRAY_FILTER_USE_KEY);
        $given = array_map(strval(...), array_keys($columns));
        $some = "(SELECT * FROM $names->table LIMIT $most) AS s";
        $parts = ['COUNT(*) AS n'];
        foreach (array_values($columns) as $place => $name) {
            $column = 's.'.Sql::name($name);
            // A number or a day that is compared with an empty text is compared with 0.
            $value = $names->types[$given[$place]] === 'text' ? "NULLIF($column, '')" : $column;
            $parts[] = "COUNT($value) AS f$place, COUNT(DISTINCT $value) AS d$place, MIN($column) AS l$place, MAX($column) AS m$place";
        }
        $row = (array) ($this->select('SELECT '.implode(', ', $parts)." FROM $some", [])[0] ?? []);
        $seen = [];
        foreach ($given as $place => $name) {
            $column = 's.'.Sql::name($columns[$name]);
            $values = $names->types[$name] === 'text' ? $this->select("SELECT DISTINCT $column AS v FROM $some WHERE $column <> '' ORDER BY v LIMIT ".self::VALUES, []) : [];
            $text = static fn (mixed $value): ?string => $value === null ? null : (string) $value;
            $seen[] = new ColumnSeen($name, $names->types[$name], (int) $row['n'], (int) $row["f$place"], (int) $row["d$place"], $text($row["l$place"]), $text($row["m$place"]), array_map(static fn (object $one): string => (string) $one->v, $values));
        }

        return $seen;
    }

    /**
     * Why it cannot be looked at.
     */
    private function missing(TableCheck $check): ?string
    {
        $table = $this->tables[$check->table] ?? null;
        if ($table === null) {
            return "The table $check->table is not kept yet.";
        }
        $missing = array_diff($check->check instanceof Every ? $check->check->named() : $check->check->columns(), array_keys($table->columns));
        if ($missing !== []) {
            return "The rows that are there have no $check->table.".reset($missing).' yet.';
        }
        $other = $check->check instanceof Refers ? $this->referred($check->check, $table) : '';

        return is_string($other) && $other !== '' ? $other : null;
    }

    /**
     * @param  array<int, TableCheck>  $checks  of one table
     * @return array<int, CheckCount>
     */
    private function together(CheckedTableNames $table, array $checks): array
    {
        $parts = ['COUNT(*) AS n'];
        $bindings = [];
        foreach ($checks as $place => $check) {
            if ($check->check instanceof Newest || $check->check instanceof OneOf || $check->check instanceof Range) {
                $column = $this->column($table, $check);
                $parts[] = "COUNT($column) AS l$place";
                $check->check instanceof Newest && $parts[] = "MAX($column) AS m$place";
            }
            if ($check->check->isOfRows() && ! $check->check instanceof Unique) {
                [$condition, $more] = $this->condition($check);
                $parts[] = "COALESCE(SUM($condition), 0) AS b$place";
                array_push($bindings, ...$more);
            }
        }
        $row = (array) ($this->select('SELECT '.implode(', ', $parts)." FROM $table->table s", $bindings)[0] ?? []);
        $rows = (int) ($row['n'] ?? 0);
        $counts = [];
        foreach ($checks as $place => $check) {
            $counts[$place] = match (true) {
                $check->check instanceof Unique && $check->check->isKey => new CheckCount($rows, $table->repeated),
                $check->check instanceof Unique => $this->repeated($table, $check, $rows),
                default => new CheckCount($rows, (int) ($row["b$place"] ?? 0), isset($row["l$place"]) ? (int) $row["l$place"] : null, isset($row["m$place"]) ? (string) $row["m$place"] : null),
            };
        }

        return $counts;
    }

    /**
     * Rows that share their values with another one.
     */
    private function repeated(CheckedTableNames $table, TableCheck $check, int $rows): CheckCount
    {
        $columns = array_map(static fn (string $name): string => Sql::name($table->columns[$name]), $check->check->columns());
        $there = implode(' AND ', array_map(static fn (string $column): string => "$column IS NOT NULL", $columns));
        $row = $this->select('SELECT COALESCE(SUM(IF(n > 1, n, 0)), 0) AS broken, COALESCE(SUM(n), 0) AS looked FROM (SELECT SQL_BIG_RESULT COUNT(*) AS n FROM '.$table->table." WHERE $there GROUP BY ".implode(', ', $columns).') AS g', [])[0] ?? null;

        return new CheckCount($rows, (int) ($row->broken ?? 0), (int) ($row->looked ?? 0));
    }

    /**
     * With a statement of its own, since the database may give it up.
     */
    private function alone(TableCheck $check): CheckCount
    {
        $table = $this->tables[$check->table];
        [$condition, $bindings] = $this->condition($check);
        try {
            $row = $this->select("SELECT COUNT(*) AS n, COUNT({$this->column($table, $check)}) AS looked, COALESCE(SUM($condition), 0) AS broken FROM $table->table s", $bindings)[0] ?? null;
        } catch (QueryException $refused) {
            if ((new LostConnectionDetector)->causedByLostConnection($refused)) {
                throw $refused;
            }

            return CheckCount::unknown('The database gave it up: '.mb_strimwidth((string) ($refused->errorInfo[2] ?? ''), 0, 200, '…', 'UTF-8').'.');
        }

        return new CheckCount((int) ($row->n ?? 0), (int) ($row->broken ?? 0), (int) ($row->looked ?? 0));
    }

    private function rowByRow(TableCheck $check): CheckCount
    {
        [$rows, $broken] = [0, 0];
        foreach ($this->rows($check) as $isBroken) {
            $rows++;
            $broken += (int) $isBroken;
        }

        return new CheckCount($rows, $broken);
    }

    /**
     * @param  list<list<string>>|null  $identities  of rows that break it
     * @return \Generator<int, bool, mixed, void> whether a row breaks it; the identity of those that do is sent to the list
     */
    private function rows(TableCheck $check, ?array &$identities = null): \Generator
    {
        $table = $this->tables[$check->table];
        $every = $check->check instanceof Every ? $check->check : throw new \LogicException('Only conditions are looked at row by row.');
        $named = array_flip($every->named());
        $places = array_flip($every->columns());
        $identity = $table->identity();
        $columns = [...array_map(static fn (string $name): string => 's.'.Sql::name($table->columns[$name]), array_keys($named)), ...array_map(static fn (string $name): string => 's.'.Sql::name($name), $identity)];
        $at = array_map(static fn (string $name): int => $places[$name], array_keys($named));
        $pdo = $this->keeper->getPdo();
        $pdo->setAttribute(\PDO::MYSQL_ATTR_USE_BUFFERED_QUERY, false);
        try {
            $statement = $pdo->query($this->limited('SELECT '.implode(', ', $columns)." FROM $table->table s"));
            while ($statement !== false && is_array($row = $statement->fetch(\PDO::FETCH_NUM))) {
                $values = [];
                foreach ($at as $index => $place) {
                    $values[$place] = $row[$index] === null ? null : (string) $row[$index];
                }
                $isBroken = $every->isBrokenBy($values);
                if ($isBroken && $identities !== null) {
                    $identities[] = array_map(static fn (mixed $value): string => (string) $value, array_slice($row, count($at)));
                }
                yield $isBroken;
            }
        } finally {
            isset($statement) && $statement !== false && $statement->closeCursor();
            $pdo->setAttribute(\PDO::MYSQL_ATTR_USE_BUFFERED_QUERY, true);
        }
    }

    /**
     * Conditions that, one after the other, hold for all rows that break a rule.
     *
     * @return iterable<array{string, list<string>}> a condition over the table s, and its values
     */
    private function conditions(TableCheck $check, ?int $most = null): iterable
    {
        if (! $check->check instanceof Every) {
            return [$this->condition($check)];
        }
        $identities = [];
        foreach ($this->rows($check, $identities) as $isBroken) {
            if ($most !== null && count($identities) >= $most) {
                break;
            }
        }
        $names = $this->tables[$check->table]->identity();
        $one = '('.implode(', ', array_fill(0, count($names), '?')).')';

        return array_map(static fn (array $some): array => ['('.implode(', ', array_map(static fn (string $name): string => 's.'.Sql::name($name), $names)).') IN ('.implode(', ', array_fill(0, count($some), $one)).')', array_merge(...$some)], array_chunk($identities, self::AT_ONCE));
    }

    /**
     * True, and never null, of rows that break a rule.
     *
     * @return array{string, list<string>} over the table s, and its values
     */
    private function condition(TableCheck $check): array
    {
        $rule = $check->check;
        $table = $this->tables[$check->table];
        $column = $rule->columns() === [] ? '' : $this->column($table, $check);
        $isNumber = in_array($table->types[$rule->columns()[0] ?? ''] ?? '', ['integer', 'decimal', 'float'], true);
        // A number that is given as text would be compared as a float.
        $literal = static fn (string $value): string => $isNumber && preg_match('/^-?\d+(\.\d+)?([eE][+-]?\d+)?$/D', $value) === 1 ? $value : Sql::text($value);

        return match (true) {
            $rule instanceof NeverEmpty => ['('.implode(' OR ', array_map(static fn (string $name): string => 's.'.Sql::name($table->columns[$name]).' IS NULL'.(in_array($table->types[$name], ['text', 'json'], true) ? ' OR s.'.Sql::name($table->columns[$name])." = ''" : ''), $rule->columns())).')', []],
            $rule instanceof OneOf => ["($column IS NOT NULL AND $column NOT IN (".implode(', ', array_map($literal, $rule->values)).'))', []],
            $rule instanceof Range => ["($column IS NOT NULL AND (".implode(' OR ', array_filter([$rule->atLeast === null ? null : "$column < ".$literal($rule->atLeast), $rule->atMost === null ? null : "$column > ".$literal($rule->atMost)])).'))', []],
            $rule instanceof Matches => ["($column IS NOT NULL AND $column NOT REGEXP ?)", ["\\A(?:$rule->pattern)\\z"]],
            $rule instanceof Refers => [$this->unfound($rule, $table, $column), []],
            $rule instanceof Unique => [$this->shared($rule, $table), []],
            $rule instanceof Newest, $rule instanceof RowCount => ['FALSE', []],
            default => throw new \LogicException('How '.$rule::class.' is counted in the database is not known.'),
        };
    }

    private function unfound(Refers $rule, CheckedTableNames $table, string $column): string
    {
        $other = $this->referred($rule, $table);

        return is_string($other) ? 'FALSE' : "($column IS NOT NULL AND $column NOT IN (SELECT {$other[1]} FROM {$other[0]} WHERE {$other[1]} IS NOT NULL))";
    }

    private function shared(Unique $rule, CheckedTableNames $table): string
    {
        $names = array_map(static fn (string $name): string => Sql::name($table->columns[$name]), $rule->columns());
        $columns = implode(', ', $names);
        $there = implode(' AND ', array_map(static fn (string $column): string => "$column IS NOT NULL", $names));

        // The table inside the parentheses is made first, so that rows can be deleted by it. Groups are found by
        // sorting, since most of them are one row, and a table of them would be as large as this one.
        return '('.implode(', ', array_map(static fn (string $name): string => "s.$name", $names)).") IN (SELECT * FROM (SELECT SQL_BIG_RESULT $columns FROM $table->table WHERE $there GROUP BY $columns HAVING COUNT(*) > 1) AS shared)";
    }

    /**
     * @return array{string, string, string}|string the quoted table, the quoted column, its type; or why there is none
     */
    private function referred(Refers $rule, CheckedTableNames $table): array|string
    {
        $own = $this->tables[$rule->table] ?? null;
        $other = $own === null ? ($this->other)($rule->table, $rule->to) : (isset($own->columns[$rule->to]) ? [$own->table, Sql::name($own->columns[$rule->to]), $own->types[$rule->to]] : "The table $rule->table has no column $rule->to.");
        $type = $table->types[$rule->columns()[0]];
        $numbers = ['integer', 'decimal', 'float'];
        if (is_array($other) && $other[2] !== $type && ! (in_array($type, $numbers, true) && in_array($other[2], $numbers, true))) {
            return "{$rule->columns()[0]} is $type and $rule->table.$rule->to is {$other[2]}, so their values cannot be equal. Give both the same type under Flatten.";
        }

        return $other;
    }

    private function column(CheckedTableNames $table, TableCheck $check): string
    {
        return 's.'.Sql::name($table->columns[$check->check->columns()[0]]);
    }

    /**
     * @param  list<string>  $bindings
     * @return list<object>
     */
    private function select(string $sql, array $bindings): array
    {
        return array_values($this->keeper->select($this->limited($sql), $bindings, false));
    }

    private function limited(string $sql): string
    {
        return $this->longest === null ? $sql : "SET STATEMENT max_statement_time = $this->longest FOR $sql";
    }
}
