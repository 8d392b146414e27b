<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Models\KeptColumn;
use App\Reservoir\MergeCounts;
use App\Reservoir\MergeRule;
use App\Reservoir\RunSuperseded;
use App\Reservoir\StagedCounts;
use App\Reservoir\StagedMerge;
use App\Reservoir\TableShape;
use Illuminate\Database\Connection;

/**
 * Staged rows into the tables that are kept, all in one transaction: readers see the tables as they were or as
 * they are then. Rows of branch tables follow the record that they belong to as a whole.
 */
final readonly class Merging implements StagedMerge
{
    /** Records that are taken back with one statement. */
    private const AT_ONCE = 500;

    /**
     * @param  list<TableShape>  $shapes
     * @param  int  $attempt  of the process that may write
     * @param  \Closure(bool): void  $settle  has all rows loaded; told whether they are in place
     */
    public function __construct(private Connection $keeper, private SchemaTables $tables, private StageNames $names, private array $shapes, private StagedCounts $counts, private MergeRule $rule, private int $attempt, private \Closure $settle)
    {
    }

    public function run(?\Closure $look = null, ?Environment $environment = null): MergeCounts
    {
        ($this->settle)(false);
        $this->widen();
        $more = array_fill(0, count($this->shapes), 0);
        $counts = $this->keeper->transaction(function () use (&$more, $look, $environment): MergeCounts {
            // Only the process whose number stands there may go on.
            if ($this->keeper->update("UPDATE {$this->names->progress()} SET finished = 1, position = ? WHERE attempt = ?", ['merged '.microtime(true), $this->attempt]) !== 1) {
                throw new RunSuperseded;
            }
            if (count($this->shapes) === 1 && $this->rule->deleted === null) {
                $merged = $this->insertCounting();
                $more[0] += $merged->new;
                $look === null || $environment === null || $look(CheckedTables::staged($this->keeper, $environment, $this->shapes, $this->kept(...), $this->counts));

                return $merged;
            }
            // One look at the pairs says how many there are, and whether any is older than what is kept.
            $pairs = $this->pairs();
            $older = $pairs['older'] === 0 ? 0 : $this->leaveOutOlder();
            $more = array_map(static fn (int $deleted): int => -$deleted, $this->delete());
            $gone = -$more[0];
            $staged = $this->count("SELECT COUNT(*) AS n FROM {$this->names->table(0)}");
            $new = $staged - ($older === 0 && $this->rule->deleted === null ? $pairs['all'] : $this->pairs()['all']);
            for ($number = 1; $number < count($this->shapes); $number++) {
                $more[$number] -= $this->keeper->delete("DELETE k FROM {$this->kept($number)} k JOIN {$this->names->table(0)} s ON {$this->on($number, 'k', 0, 's')}");
                $more[$number] += $this->insert($number, false);
            }
            // A row that is changed counts twice, one that is as it was not at all.
            $changed = intdiv($this->insert(0, true) - $new, 2);
            $more[0] += $new;
            if ($look !== null && $environment !== null) {
                $look(CheckedTables::staged($this->keeper, $environment, $this->shapes, $this->kept(...), $this->counts));
            }

            return new MergeCounts($new, $changed, $gone, $staged - $new - $changed, $older);
        });
        ($this->settle)(true);
        if ($this->rule->rows === null) {
            $this->recount($this->kept(...));
        } else {
            $this->counts->rowsOf = array_map(static fn (int $was, int $more): int => $was + $more, $this->rule->rows, $more);
            $this->counts->rows = array_sum($this->counts->rowsOf);
        }

        return $counts;
    }

    /**
     * Records that were staged and are kept as well.
     *
     * @return array{all: int, older: int} of which the staged state is the older one
     */
    private function pairs(): array
    {
        $older = $this->rule->newer === null ? '0' : "COALESCE(SUM({$this->isOlder($this->rule->newer)}), 0)";
        $found = $this->keeper->selectOne("SELECT COUNT(*) AS n, $older AS older FROM {$this->names->table(0)} s JOIN {$this->kept(0)} k ON {$this->on(0, 'k', 0, 's')}", [], false);

        return ['all' => (int) ($found->n ?? 0), 'older' => (int) ($found->older ?? 0)];
    }

    private function isOlder(int $newer): string
    {
        return "k.{$this->column(0, $newer)} > s.{$this->column(0, $newer)}";
    }

    /**
     * States that are older than those that are kept, with what belongs to them. Deleting locks whatever it looks
     * at, so it is known before that there are any.
     *
     * @return int records
     */
    private function leaveOutOlder(): int
    {
        return $this->rule->newer === null ? 0 : $this->leaveOut("JOIN {$this->kept(0)} k ON {$this->on(0, 'k', 0, 's')} WHERE {$this->isOlder($this->rule->newer)}");
    }

    /**
     * @param  \Closure(int): string  $table
     */
    private function recount(\Closure $table): void
    {
        foreach (array_keys($this->shapes) as $number) {
            $this->counts->rowsOf[$number] = $this->count("SELECT COUNT(*) AS n FROM {$table($number)}");
        }
        $this->counts->rows = array_sum($this->counts->rowsOf);
    }

    /**
     * What is marked as deleted goes, from what is kept and from what was staged.
     *
     * @return list<int> rows that were kept until now, of each table
     */
    private function delete(): array
    {
        $gone = array_fill(0, count($this->shapes), 0);
        if ($this->rule->deleted === null) {
            return $gone;
        }
        [$place, $value] = $this->rule->deleted;
        $is = "s.{$this->column(0, $place)} = ?";
        for ($number = count($this->shapes) - 1; $number >= 0; $number--) {
            $gone[$number] = $this->keeper->delete("DELETE k FROM {$this->kept($number)} k JOIN {$this->names->table(0)} s ON {$this->on($number, 'k', 0, 's')} WHERE $is", [$value]);
        }
        $this->leaveOut("WHERE $is", [$value]);

        return $gone;
    }

    public function leaveOutDeleted(): int
    {
        $left = $this->rule->deleted === null ? 0 : $this->leaveOut("WHERE s.{$this->column(0, $this->rule->deleted[0])} = ?", [$this->rule->deleted[1]]);
        if ($left > 0) {
            $this->recount($this->names->table(...));
        }

        return $left;
    }

    public function takeBack(array $keys): void
    {
        ($this->settle)(false);
        foreach (array_chunk($keys, self::AT_ONCE) as $some) {
            foreach (array_keys($this->shapes) as $number) {
                $names = implode(', ', array_map(fn (int $place): string => $this->column($number, $place), $this->rule->key[$number]));
                $one = '('.implode(', ', array_fill(0, count($this->rule->key[$number]), '?')).')';
                $this->counts->rowsOf[$number] -= $this->keeper->delete("DELETE FROM {$this->names->table($number)} WHERE ($names) IN (".implode(', ', array_fill(0, count($some), $one)).')', array_merge(...$some));
            }
        }
    }

    public function difference(): MergeCounts
    {
        // One look at the pairs is half of what a look at those without a partner on either side would take.
        $both = $this->pairs()['all'];
        $rows = fn (string $table): int => $this->count("SELECT COUNT(*) AS n FROM $table");

        return new MergeCounts($rows($this->names->table(0)) - $both, 0, $rows($this->kept(0)) - $both);
    }

    /**
     * Staged rows of some records, of all tables.
     *
     * @param  string  $which  what follows after the staged main table, which is called s
     * @param  list<string>  $values
     * @return int records
     */
    private function leaveOut(string $which, array $values = []): int
    {
        for ($number = 1; $number < count($this->shapes); $number++) {
            $this->keeper->delete("DELETE b FROM {$this->names->table($number)} b JOIN {$this->names->table(0)} s ON {$this->on($number, 'b', 0, 's')} $which", $values);
        }

        return $this->keeper->delete("DELETE s FROM {$this->names->table(0)} s $which", $values);
    }

    /**
     * @return int rows, as the database counts them
     */
    private function insert(int $number, bool $isUpdated): int
    {
        $names = array_map(static fn (KeptColumn $column): string => Sql::name($column->name), $this->shapes[$number]->columns);
        $columns = implode(', ', $names);
        // What is there already under the key of a branch is another record's, and stays, as it does where all is read.
        $updates = $isUpdated ? implode(', ', array_map(static fn (string $name): string => "$name = VALUES($name)", $names)) : "{$names[0]} = {$this->kept($number)}.{$names[0]}";

        return $this->keeper->affectingStatement("INSERT INTO {$this->kept($number)} ($columns) SELECT $columns FROM {$this->names->table($number)} ON DUPLICATE KEY UPDATE $updates");
    }

    /**
     * Where there is nothing but one table: which rows are there already, and which of these are newer than what came,
     * is seen as they are written, so no look is taken before. Assignments are made from left to right
     * (MariaDB's "INSERT ON DUPLICATE KEY UPDATE").
     */
    private function insertCounting(): MergeCounts
    {
        $names = array_map(static fn (KeptColumn $column): string => Sql::name($column->name), $this->shapes[0]->columns);
        $isOlder = $this->rule->newer === null ? '0' : "COALESCE({$this->kept(0)}.{$this->column(0, $this->rule->newer)} > VALUES({$this->column(0, $this->rule->newer)}), 0)";
        // The key is the same in either row. The first assignment counts.
        $key = array_map(fn (int $place): string => $this->column(0, $place), $this->rule->key[0]);
        $assigned = array_values(array_diff($names, $key)) ?: [$key[0]];
        $updates = array_map(fn (string $name): string => "$name = IF(@merge_is_older, {$this->kept(0)}.$name, VALUES($name))", $assigned);
        $updates[0] = "{$assigned[0]} = IF((@merge_pairs := @merge_pairs + 1) AND (@merge_older := @merge_older + (@merge_is_older := $isOlder)) >= 0 AND @merge_is_older, {$this->kept(0)}.{$assigned[0]}, VALUES({$assigned[0]}))";
        $columns = implode(', ', $names);
        $this->keeper->statement('SET @merge_pairs = 0, @merge_older = 0, @merge_is_older = 0');
        $affected = $this->keeper->affectingStatement("INSERT INTO {$this->kept(0)} ($columns) SELECT $columns FROM {$this->names->table(0)} ON DUPLICATE KEY UPDATE ".implode(', ', $updates));
        $said = $this->keeper->selectOne('SELECT @merge_pairs AS pairs, @merge_older AS older', [], false);
        [$pairs, $older] = [(int) ($said->pairs ?? 0), (int) ($said->older ?? 0)];
        if ($older > 0) {
            // What came too late is no part of what was staged for whoever looks at it next.
            $this->leaveOutOlder();
        }
        $staged = $this->counts->rowsOf[0] - $older;
        $new = $this->counts->rowsOf[0] - $pairs;
        // A row that is changed counts twice, one that is as it was not at all.
        $changed = intdiv($affected - $new, 2);

        return new MergeCounts($new, $changed, 0, $staged - $new - $changed, $older);
    }

    /**
     * Makes room in what is kept for the values that came.
     */
    private function widen(): void
    {
        foreach ($this->shapes as $number => $shape) {
            $kept = $this->tables->widths($shape, $shape->name);
            $change = TableDefinition::widths($shape, $this->kept($number), $kept, $kept->atLeast($this->tables->widths($shape, $this->names->bare($number))));
            if ($change !== null) {
                $this->keeper->statement($change);
            }
        }
    }

    private function count(string $sql): int
    {
        return (int) ($this->keeper->selectOne($sql, [], false)->n ?? 0);
    }

    private function on(int $number, string $alias, int $other, string $otherAlias): string
    {
        return implode(' AND ', array_map(fn (int $place, int $otherPlace): string => "$alias.{$this->column($number, $place)} = $otherAlias.{$this->column($other, $otherPlace)}", $this->rule->key[$number], $this->rule->key[$other]));
    }

    private function column(int $number, int $place): string
    {
        return Sql::name($this->shapes[$number]->columns[$place]->name);
    }

    private function kept(int $number): string
    {
        return Sql::table($this->names->schema, $this->shapes[$number]->name);
    }
}
