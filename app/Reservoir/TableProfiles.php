<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\KeptTable;

interface TableProfiles
{
    /**
     * Looks at all rows of a table.
     *
     * @param  int  $longest  seconds that one statement may take
     * @return array{int, list<ColumnProfile>} rows, and the columns in their order
     *
     * @throws KeepFailed when the table is not there, or cannot be read in that time
     */
    public function take(KeptTable $table, int $longest): array;
}
