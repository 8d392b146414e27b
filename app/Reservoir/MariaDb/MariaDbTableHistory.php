<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Reservoir\MergeCounts;
use App\Reservoir\MergedRows;
use App\Reservoir\StateRows;
use App\Reservoir\TableHistory;
use DeepSpring\History\HistorySettings;
use DeepSpring\History\StateDifference;
use DeepSpring\History\StateNames;
use Illuminate\Database\Connection;
use Illuminate\Database\ConnectionResolverInterface;
use Illuminate\Support\Carbon;

/**
 * Earlier states as tables beside the kept ones.
 */
final readonly class MariaDbTableHistory implements TableHistory
{
    /** Rows that are deleted with one statement. */
    private const AT_ONCE = 20_000;

    public function __construct(private ConnectionResolverInterface $connections)
    {
    }

    public function has(Environment $environment, string $table): bool
    {
        return $this->tables($environment)->has($table);
    }

    public function copy(Environment $environment, string $owner, string $table, string $as): void
    {
        // Under a name that goes with the stage, until all of it is there.
        $unfinished = Sql::table($environment->schema(), StageNames::of($owner).'copy_'.bin2hex(random_bytes(4)));
        $from = Sql::table($environment->schema(), $table);
        $this->keeper()->statement("CREATE TABLE $unfinished LIKE $from");
        $this->keeper()->statement("INSERT INTO $unfinished SELECT * FROM $from");
        $this->keeper()->statement("RENAME TABLE $unfinished TO ".Sql::table($environment->schema(), $as));
    }

    public function drop(Environment $environment, array $tables): void
    {
        foreach ($tables as $table) {
            $this->keeper()->statement('DROP TABLE IF EXISTS '.Sql::table($environment->schema(), $table));
        }
    }

    public function bytes(Environment $environment, array $tables): array
    {
        $bytes = [];
        $found = $tables === [] ? [] : $this->keeper()->select('select table_name as name, data_length + index_length as bytes from information_schema.tables where table_schema = ? and table_name in ('.implode(', ', array_fill(0, count($tables), '?')).')', [$environment->schema(), ...$tables], false);
        foreach ($found as $one) {
            $bytes[(string) $one->name] = (int) $one->bytes;
        }

        return $bytes;
    }

    public function states(Environment $environment): array
    {
        return array_values(array_filter($this->tables($environment)->like('%'), StateNames::mayBeOne(...)));
    }

    public function record(Environment $environment, string $table, string $versions, array $key, array $columns, Carbon $at, ?MergedRows $merged = null): MergeCounts
    {
        return (new RowVersions($this->keeper(), $environment->schema(), $table, $versions, $key, $columns))->record($at, $merged);
    }

    public function thin(Environment $environment, string $versions, Carbon $before, int $rows): array
    {
        $table = Sql::table($environment->schema(), $versions);
        $count = fn (): int => (int) ($this->keeper()->selectOne("SELECT COUNT(*) AS n FROM $table", [], false)->n ?? 0);
        $gone = 0;
        do {
            $gone += $some = $this->keeper()->delete("DELETE FROM $table WHERE ".HistorySettings::TO.' < ? LIMIT '.self::AT_ONCE, [$before->format('Y-m-d H:i:s.u')]);
        } while ($some === self::AT_ONCE);
        for ($over = $count() - $rows; $over > 0; $over -= $some) {
            $gone += $some = $this->keeper()->delete("DELETE FROM $table WHERE ".HistorySettings::TO.' IS NOT NULL ORDER BY '.HistorySettings::TO.' LIMIT '.min($over, self::AT_ONCE));
            if ($some === 0) {
                break;
            }
        }

        return [$gone, $count()];
    }

    public function moments(Environment $environment, string $versions, array $key, int $most): array
    {
        $table = Sql::table($environment->schema(), $versions);
        [$from, $to] = [HistorySettings::FROM, HistorySettings::TO];
        $sql = "SELECT at, SUM(begun) AS begun, SUM(ended) AS ended FROM (SELECT $from AS at, 1 AS begun, 0 AS ended FROM $table UNION ALL SELECT $to, 0, 1 FROM $table WHERE $to IS NOT NULL) e GROUP BY at ORDER BY at DESC LIMIT $most";
        $on = implode(' AND ', array_map(static fn (string $name): string => 'o.'.Sql::name($name).' = v.'.Sql::name($name), $key));

        return array_values(array_map(function (object $row) use ($table, $on, $from, $to): array {
            // One that ended when the next of the same row began has changed.
            $changed = (int) $row->ended === 0 ? 0 : (int) ($this->keeper()->selectOne("SELECT COUNT(*) AS n FROM $table v JOIN $table o ON $on AND o.$from = v.$to WHERE v.$to = ?", [$row->at], false)->n ?? 0);

            return ['at' => (string) $row->at, 'came' => (int) $row->begun - $changed, 'changed' => $changed, 'went' => (int) $row->ended - $changed];
        }, $this->keeper()->select($sql, [], false)));
    }

    public function compare(Environment $environment, StateRows $before, StateRows $after, int $shown, int $longest): StateDifference
    {
        return (new StateComparison($this->keeper(), $environment->schema(), $before, $after, $longest))->make($shown);
    }

    private function tables(Environment $environment): SchemaTables
    {
        return new SchemaTables($this->keeper(), $environment->schema());
    }

    private function keeper(): Connection
    {
        $connection = $this->connections->connection(MariaDbTableStore::CONNECTION);

        return $connection instanceof Connection ? $connection : throw new \LogicException('The history needs a connection to MariaDB.');
    }
}
