<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Reservoir\StagedTables;

/**
 * Rows that are loaded and counted, so that all is known of them that keeping them would tell, and then
 * thrown away.
 */
final class Count implements Sink
{
    use FillsStagedTables {
        complete as private putInPlace;
    }

    public function __construct(StagedTables $staged, int $run = 0, int $attempt = 1)
    {
        [$this->staged, $this->run, $this->attempt] = [$staged, $run, $attempt];
    }

    public function complete(): void
    {
    }
}
