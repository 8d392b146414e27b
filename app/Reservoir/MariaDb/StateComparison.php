<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\KeepFailed;
use App\Reservoir\StateRows;
use DeepSpring\History\ColumnChange;
use DeepSpring\History\HistorySettings;
use DeepSpring\History\StateDifference;
use Illuminate\Database\Connection;
use Illuminate\Database\QueryException;

/**
 * Two states of a table, row by row where it has a key, and otherwise as two heaps of rows.
 */
final readonly class StateComparison
{
    /** The database's error for a statement that took too long. */
    private const TOO_LONG = 1969;

    /** @var list<string> that both have */
    private array $common;

    /** @var list<string> that tells rows apart in both */
    private array $key;

    public function __construct(private Connection $keeper, private string $schema, private StateRows $before, private StateRows $after, private int $longest)
    {
        $this->common = array_values(array_intersect($after->columns, $before->columns));
        $this->key = $before->key === $after->key && array_diff($after->key, $this->common) === [] ? $after->key : [];
    }

    /**
     * @throws KeepFailed
     */
    public function make(int $shown): StateDifference
    {
        if ($this->common === []) {
            throw KeepFailed::because('The two have no column in common.');
        }
        $apart = [...array_values(array_diff($this->before->columns, $this->common)), ...array_values(array_diff($this->after->columns, $this->common))];
        [$a, $b] = [$this->rows($this->before), $this->rows($this->after)];
        $count = fn (string $sql): int => (int) ($this->select("SELECT COUNT(*) AS n FROM $sql")[0]['n'] ?? 0);
        $size = [$count("$a x"), $count("$b x")];
        if ($this->key === []) {
            $names = implode(', ', array_map(Sql::name(...), $this->common));
            $less = static fn (string $one, string $other): string => "(SELECT $names FROM $one x EXCEPT ALL SELECT $names FROM $other y) d";

            return new StateDifference($size[0], $size[1], $count($less($b, $a)), $count($less($a, $b)), null, [], $apart, $this->select("SELECT * FROM {$less($b, $a)} LIMIT $shown"), $this->select("SELECT * FROM {$less($a, $b)} LIMIT $shown"), []);
        }
        $on = implode(' AND ', array_map(static fn (string $name): string => 'a.'.Sql::name($name).' = b.'.Sql::name($name), $this->key));
        $first = Sql::name($this->key[0]);
        $came = "$b b LEFT JOIN $a a ON $on WHERE a.$first IS NULL";
        $went = "$a a LEFT JOIN $b b ON $on WHERE b.$first IS NULL";
        [$changed, $columns, $rows] = $this->changed("$a a JOIN $b b ON $on", $shown);

        return new StateDifference($size[0], $size[1], $count($came), $count($went), $changed, $columns, $apart, $this->select('SELECT '.$this->listed('b').' FROM '.$came.$this->ordered('b')." LIMIT $shown"), $this->select('SELECT '.$this->listed('a').' FROM '.$went.$this->ordered('a')." LIMIT $shown"), $rows);
    }

    /**
     * @param  string  $both  rows of both that have the same key
     * @return array{int, list<ColumnChange>, list<array{key: array<string, string|null>, values: array<string, array{string|null, string|null}>}>}
     */
    private function changed(string $both, int $shown): array
    {
        $rest = array_values(array_diff($this->common, $this->key));
        if ($rest === []) {
            return [0, [], []];
        }
        $differs = static fn (string $name): string => 'NOT (a.'.Sql::name($name).' <=> b.'.Sql::name($name).')';
        $where = implode(' OR ', array_map($differs, $rest));
        $sums = implode(', ', array_map(static fn (string $name, int $place): string => "COALESCE(SUM({$differs($name)}), 0) AS c$place", $rest, array_keys($rest)));
        $counted = $this->select("SELECT COUNT(*) AS n, $sums FROM $both WHERE $where")[0] ?? [];
        $columns = [];
        foreach ($rest as $place => $name) {
            if ((int) ($counted["c$place"] ?? 0) > 0) {
                $columns[] = new ColumnChange($name, (int) $counted["c$place"]);
            }
        }
        usort($columns, static fn (ColumnChange $one, ColumnChange $other): int => $other->rows <=> $one->rows);
        $names = implode(', ', array_map(static fn (string $name, int $place): string => 'a.'.Sql::name($name)." AS a$place, b.".Sql::name($name)." AS b$place", $this->common, array_keys($this->common)));
        $rows = [];
        foreach ($this->select("SELECT $names FROM $both WHERE $where".$this->ordered('b')." LIMIT $shown") as $row) {
            $one = ['key' => [], 'values' => []];
            foreach ($this->common as $place => $name) {
                if (in_array($name, $this->key, true)) {
                    $one['key'][$name] = $row["b$place"];
                } elseif ($row["a$place"] !== $row["b$place"]) {
                    $one['values'][$name] = [$row["a$place"], $row["b$place"]];
                }
            }
            $rows[] = $one;
        }

        return [(int) ($counted['n'] ?? 0), $columns, $rows];
    }

    private function listed(string $of): string
    {
        return implode(', ', array_map(static fn (string $name): string => "$of.".Sql::name($name), $this->common));
    }

    private function ordered(string $by): string
    {
        return ' ORDER BY '.implode(', ', array_map(static fn (string $name): string => "$by.".Sql::name($name), $this->key));
    }

    private function rows(StateRows $state): string
    {
        $table = Sql::table($this->schema, $state->table);
        if ($state->at === null) {
            return $table;
        }
        $at = Sql::text($state->at->format('Y-m-d H:i:s.u'));

        return '(SELECT '.implode(', ', array_map(Sql::name(...), $state->columns))." FROM $table WHERE ".HistorySettings::FROM." <= $at AND (".HistorySettings::TO.' IS NULL OR '.HistorySettings::TO." > $at))";
    }

    /**
     * @return list<array<string, string|null>>
     *
     * @throws KeepFailed
     */
    private function select(string $sql): array
    {
        try {
            return array_values(array_map(static fn (object $row): array => array_map(static fn (mixed $value): ?string => $value === null ? null : (string) $value, get_object_vars($row)), $this->keeper->select("SET STATEMENT max_statement_time = $this->longest FOR $sql", [], false)));
        } catch (QueryException $refused) {
            if ((int) ($refused->errorInfo[1] ?? 0) === self::TOO_LONG) {
                throw KeepFailed::because("To compare them takes longer than {$this->longest} s. Write a query over the two tables that looks at less.");
            }

            throw $refused;
        }
    }
}
