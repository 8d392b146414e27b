<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Models\Environment;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use App\Reservoir\StagedCounts;
use App\Reservoir\TableShape;
use DeepSpring\Increment\InvalidIncrement;
use DeepSpring\Increment\RecordKey;
use DeepSpring\Value\SafeNames;
use Illuminate\Database\Connection;

/**
 * Makes what asks tables for rows that break a rule.
 */
final class CheckedTables
{
    /**
     * @param  list<TableShape>  $shapes  the main table first
     * @param  \Closure(int): string  $table  number of a shape → the quoted table
     * @param  \Closure(): void|null  $changed  told when rows were left out
     */
    public static function staged(Connection $keeper, Environment $environment, array $shapes, \Closure $table, StagedCounts $counts, ?\Closure $changed = null): MariaDbCheckedRows
    {
        $records = self::records($shapes[0]);
        $tables = [];
        foreach ($shapes as $number => $shape) {
            $names = array_column($shape->columns, 'name', 'given');
            $record = array_map(static fn (int $place): string => $shape->columns[$place]->name, $records[$number] ?? []);
            $tables[$shape->given()] = new CheckedTableNames($table($number), $names, array_column($shape->columns, 'type', 'given'), $shape->key, $record, self::masked($shape->columns), $counts->duplicatesOf[$number] ?? 0);
        }

        return new MariaDbCheckedRows($keeper, $tables, self::others($environment), $changed);
    }

    /**
     * @param  list<KeptTable>  $kept  of one endpoint, the main table first
     * @param  int  $longest  seconds of a statement
     */
    public static function kept(Connection $keeper, Environment $environment, array $kept, int $longest): MariaDbCheckedRows
    {
        $tables = [];
        foreach ($kept as $one) {
            $columns = $one->keptColumns();
            $tables[$one->given_name] = new CheckedTableNames(Sql::table($environment->schema(), $one->name), array_column($columns, 'name', 'given'), array_column($columns, 'type', 'given'), $one->key, masked: self::masked($columns));
        }

        return new MariaDbCheckedRows($keeper, $tables, self::others($environment), null, $longest);
    }

    /**
     * @param  list<KeptColumn>  $columns
     * @return list<string>
     */
    private static function masked(array $columns): array
    {
        return array_values(array_map(static fn (KeptColumn $one): string => $one->given, array_filter($columns, static fn (KeptColumn $one): bool => $one->mask !== 'none')));
    }

    /**
     * Places of the key of the record in each table; none where a table does not carry it.
     *
     * @return list<list<int>>
     */
    private static function records(TableShape $main): array
    {
        try {
            return $main->key === [] ? [] : RecordKey::of($main->plan)->places;
        } catch (InvalidIncrement) {
            return [];
        }
    }

    /**
     * @return \Closure(string, string): (array{string, string, string}|string)
     */
    private static function others(Environment $environment): \Closure
    {
        return static function (string $table, string $column) use ($environment): array|string {
            $kept = KeptTable::query()->where('environment_id', $environment->id)->where('name', SafeNames::clean($table))->first();
            if ($kept === null) {
                return "The table $table is not kept in $environment->name.";
            }
            foreach ($kept->keptColumns() as $one) {
                if (in_array($column, [$one->given, $one->name], true)) {
                    return [Sql::table($environment->schema(), $kept->name), Sql::name($one->name), $one->type];
                }
            }

            return "The table $table has no column $column.";
        };
    }
}
