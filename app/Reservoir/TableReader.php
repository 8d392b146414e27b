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
     * One row, by its mark in a page.
     *
     * @return array<string, string|null>|null name of a column → value; null where it is no longer there
     *
     * @throws KeepFailed when it takes too long, or the table is gone
     */
    public function row(KeptTable $table, string $mark): ?array;

    /**
     * Rows with these values, at most so many of their marks.
     *
     * @param  array<string, string|null>  $values  name of a column → value
     * @return list<string>
     *
     * @throws KeepFailed when it takes too long, or the table is gone
     */
    public function marksOf(KeptTable $table, array $values, int $most): array;

    /**
     * How many rows have a text in them; null when counting takes too long.
     */
    public function found(KeptTable $table, string $search): ?int;
}
