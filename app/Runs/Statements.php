<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Run;
use App\Reservoir\KeepFailed;

/**
 * The statements of which tables are kept.
 */
interface Statements
{
    /**
     * Rows of the statement that a run keeps, read as its owner.
     *
     * @param  list<string>  $columns  that the table has
     * @return \Generator<int, list<string|null>>
     *
     * @throws KeepFailed with a sentence, when it cannot be read or gives other columns
     */
    public function rows(Run $run, array $columns): \Generator;

    /**
     * Which rows are read anew, in words, where the others stay as they are; null where all are.
     */
    public function period(Run $run): ?string;
}
