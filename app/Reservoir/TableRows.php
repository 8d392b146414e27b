<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\KeptTable;

/**
 * All rows of a kept table, in the order of its key, a few thousand at a time.
 */
interface TableRows
{
    /**
     * @param  list<string>  $columns  as the database calls them
     * @param  list<string>|null  $after  values of the key of the last row that is not wanted again
     * @return \Generator<int, array{list<string|null>, list<string>}> values in the order of the columns, and those of the key
     *
     * @throws KeepFailed when the table is gone
     */
    public function read(KeptTable $table, array $columns, ?array $after = null): \Generator;

    /**
     * Rows with these keys, as far as there are any.
     *
     * @param  list<string>  $columns
     * @param  list<list<string>>  $keys
     * @return list<list<string|null>>
     */
    public function withKeys(KeptTable $table, array $columns, array $keys): array;

    /**
     * Different values of a column, in their order; none where there is no such column.
     *
     * @return list<string>
     */
    public function values(KeptTable $table, string $column, int $most): array;

    /**
     * Different combinations of values, in rows that have a value in each of some columns.
     *
     * @param  list<string>  $columns
     * @return array{int, int} combinations, rows
     */
    public function distinct(KeptTable $table, array $columns): array;
}
