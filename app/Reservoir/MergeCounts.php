<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * What became of the records that were merged, or how two states of a table differ.
 */
final readonly class MergeCounts
{
    /**
     * @param  int  $same  that are as they were
     * @param  int  $older  older than what was kept, and left out
     */
    public function __construct(public int $new, public int $changed, public int $gone, public int $same = 0, public int $older = 0)
    {
    }
}
