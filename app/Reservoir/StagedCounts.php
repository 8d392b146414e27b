<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * What was loaded so far.
 */
final class StagedCounts
{
    /** Rows of all tables. */
    public int $rows = 0;

    /** Rows whose key was there already. */
    public int $duplicates = 0;

    /** @var array<int, int> rows by the number of their table */
    public array $rowsOf = [];

    /** @var array<int, int> rows whose key was there already, by the number of their table */
    public array $duplicatesOf = [];

    /** @var array<int, int> rows that were given to each table, whether they were new to it or not */
    public array $givenTo = [];
}
