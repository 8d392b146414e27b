<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\Environment;
use DeepSpring\Flatten\RowBatch;

/**
 * Single records put into kept tables between two refreshes.
 */
interface RowPatches
{
    /**
     * Records as they are now, each with its rows in the branch tables, all in one transaction.
     *
     * @param  list<TableShape>  $shapes  of the main table and its branches, as they are kept
     * @param  list<list<int>>  $key  places of the key of the record in the rows of each table
     * @return list<int> rows that each table has more, or fewer where negative
     *
     * @throws KeepFailed where they do not fit, or a table is gone; nothing is changed then
     */
    public function put(Environment $environment, array $shapes, array $key, RowBatch $batch): array;

    /**
     * Records that are no longer there.
     *
     * @param  list<TableShape>  $shapes
     * @param  list<list<int>>  $key
     * @param  list<list<string>>  $records  their keys
     * @return list<int> likewise
     *
     * @throws KeepFailed
     */
    public function remove(Environment $environment, array $shapes, array $key, array $records): array;

    /**
     * Some columns of one row of a main table.
     *
     * @param  array<string, string>  $key  column, as the database calls it → value
     * @param  array<string, string|null>  $values  likewise
     *
     * @throws KeepFailed
     */
    public function set(Environment $environment, string $table, array $key, array $values): void;
}
