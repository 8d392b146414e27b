<?php

declare(strict_types=1);

namespace App\Queries;

/**
 * How many rows the database looked at for a statement, known once all of its rows were taken.
 */
final class LookedAt
{
    public ?int $rows = null;

    /**
     * What the connection counts since it was opened ("Handler_read" among the status variables of MariaDB).
     */
    public function count(\PDO $reader): void
    {
        $rows = 0;
        foreach ($reader->query("show session status where Variable_name in ('Handler_read_first', 'Handler_read_key', 'Handler_read_next', 'Handler_read_prev', 'Handler_read_last', 'Handler_read_rnd', 'Handler_read_rnd_next')") ?: [] as $one) {
            $rows += (int) $one['Value'];
        }
        $this->rows = $rows;
    }
}
