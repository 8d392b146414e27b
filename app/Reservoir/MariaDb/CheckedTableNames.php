<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

/**
 * A table that is looked at: its names in the database.
 */
final readonly class CheckedTableNames
{
    /**
     * @param  string  $table  quoted
     * @param  array<string, string>  $columns  as the source file calls them → as the database does
     * @param  array<string, string>  $types  as the source file calls them → of a source file
     * @param  list<string>  $key  as the database calls them; empty where there is none
     * @param  list<string>  $record  columns that carry the key of the record, as the database calls them
     * @param  list<string>  $masked  as the source file calls them
     * @param  int  $repeated  rows that came with a key that was there already
     */
    public function __construct(public string $table, public array $columns, public array $types, public array $key, public array $record = [], public array $masked = [], public int $repeated = 0)
    {
    }

    /**
     * Columns by which one row is told from all others.
     *
     * @return non-empty-list<string>
     */
    public function identity(): array
    {
        return $this->key === [] ? [TableDefinition::ROW] : $this->key;
    }
}
