<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Reservoir\StagedTables;

/**
 * Rows beside those that are kept. Where the key of a row is kept already, the kept one stays.
 */
final class Append implements Sink
{
    use FillsStagedTables {
        begin as private beginRows;
    }

    public function __construct(StagedTables $staged, int $run = 0, int $attempt = 1)
    {
        [$this->staged, $this->run, $this->attempt] = [$staged, $run, $attempt];
    }

    public function begin(): ?array
    {
        $left = $this->beginRows();
        if ($left === null) {
            $this->staged->carryOver();
        }

        return $left;
    }
}
