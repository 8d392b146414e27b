<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\TableShape;
use Illuminate\Database\Connection;

/**
 * Which tables a schema has.
 */
final readonly class SchemaTables
{
    public function __construct(private Connection $keeper, private string $schema)
    {
    }

    public function has(string $table): bool
    {
        return $this->like($table) !== [];
    }

    /**
     * @param  string  $pattern  with % for anything; underscores mean themselves
     * @return list<string>
     */
    public function like(string $pattern): array
    {
        $found = $this->keeper->select(
            'select table_name as name from information_schema.tables where table_schema = ? and table_name like ?',
            [$this->schema, preg_replace('/(?<!\\\\)_/', '\\_', $pattern)],
            false,
        );

        return array_map(static fn (object $row): string => (string) $row->name, $found);
    }

    /**
     * How wide the columns of a table are.
     *
     * @param  string  $table  one with the columns of that shape
     */
    public function widths(TableShape $shape, string $table): ColumnWidths
    {
        $found = $this->keeper->select('select column_name as name, data_type as type, character_maximum_length as characters, numeric_precision as digits from information_schema.columns where table_schema = ? and table_name = ?', [$this->schema, $table], false);
        $there = array_column($found, null, 'name');
        $growing = TableDefinition::growing($shape);
        $widths = [];
        foreach ($growing as $place => $column) {
            $is = $there[$shape->columns[$place]->name] ?? null;
            $widths[$place] = $is === null ? null : $column->width((string) $is->type, (int) $is->characters, (int) $is->digits);
        }

        return ColumnWidths::there($growing, $widths);
    }

    public function drop(string $pattern): void
    {
        $tables = array_map(fn (string $table): string => Sql::table($this->schema, $table), $this->like($pattern));
        $tables === [] || $this->keeper->statement('DROP TABLE IF EXISTS '.implode(', ', $tables));
    }
}
