<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Run;

/**
 * What is done once the rows of a run are in place.
 */
interface InPlace
{
    public function tables(Run $run): void;
}
