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
     * How wide the texts of a table are.
     *
     * @param  string  $table  one with the columns of that shape
     */
    public function textWidths(TableShape $shape, string $table): TextWidths
    {
        $places = TableDefinition::texts($shape);
        $columns = array_combine($places, array_map(static fn (int $place): string => $shape->columns[$place]->name, $places));
        $found = $this->keeper->select("select column_name as name, character_maximum_length as characters from information_schema.columns where table_schema = ? and table_name = ? and data_type = 'varchar'", [$this->schema, $table], false);
        $there = array_column(array_map(static fn (object $row): array => (array) $row, $found), 'characters', 'name');

        return TextWidths::there(array_map(static fn (string $name): ?int => isset($there[$name]) ? (int) $there[$name] : null, $columns));
    }

    public function drop(string $pattern): void
    {
        foreach ($this->like($pattern) as $table) {
            $this->keeper->statement('DROP TABLE IF EXISTS '.Sql::table($this->schema, $table));
        }
    }
}
