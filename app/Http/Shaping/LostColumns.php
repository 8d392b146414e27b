<?php

declare(strict_types=1);

namespace App\Http\Shaping;

use App\Models\KeptTable;
use App\Models\SavedQuery;
use App\Reservoir\TableShape;

/**
 * Columns of kept tables that a plan has no more, and the queries that may read them.
 */
final class LostColumns
{
    /**
     * @return list<array{column: string, queries: list<string>}>
     */
    public static function of(ShapeSheet $sheet): array
    {
        $now = [];
        foreach ($sheet->plan?->tables() ?? [] as $table) {
            $shape = new TableShape($table);
            $now[$shape->name] = array_column($shape->columns, 'name');
        }
        $lost = [];
        $queries = SavedQuery::query()->get(['name', 'sql', 'is_private', 'user_id']);
        foreach (KeptTable::query()->where('endpoint_id', $sheet->row->id)->where('environment_id', $sheet->environment->id)->get() as $table) {
            foreach (array_diff(array_column($table->columns, 'name'), $now[$table->name] ?? []) as $column) {
                $reading = $queries->filter(static fn (SavedQuery $query): bool => self::names($query->sql, preg_quote($table->name, '/')) && self::names($query->sql, preg_quote($column, '/'), '|\*'));
                $lost[] = ['column' => "$table->name.$column", 'queries' => array_values($reading->map(static fn (SavedQuery $one): string => $one->nameFor(null))->unique()->all())];
            }
        }

        return $lost;
    }

    private static function names(string $sql, string $name, string $or = ''): bool
    {
        return preg_match('/(?<![\w$])'.$name.'(?![\w$])'.$or.'/i', $sql) === 1;
    }
}
