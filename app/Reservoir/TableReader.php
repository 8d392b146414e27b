<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\KeptTable;

/**
 * Pages through the rows of a kept table.
 */
interface TableReader
{
    /** Rows of a page. */
    public const SIZE = 100;

    /**
     * @param  string|null  $mark  of a TablePage; null for the beginning
     * @param  string  $search  shows rows with this text in any text column, whatever its case
     *
     * @throws KeepFailed when it takes too long, or the table is gone
     */
    public function page(KeptTable $table, Order $order, ?string $mark, string $search = ''): TablePage;

    /**
     * How many rows have a text in them; null when counting takes too long.
     */
    public function found(KeptTable $table, string $search): ?int;
}
