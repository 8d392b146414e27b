<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

/**
 * What a page of records became.
 */
final class RowBatch
{
    /**
     * @param  list<list<list<string|null>>>  $rows  rows of each table of the plan, in its order; values in the order of the columns
     * @param  list<Reject>  $rejects  the first of them
     * @param  int  $rejected  how many there are
     * @param  int  $filtered  rows that a condition left out
     */
    public function __construct(public array $rows, public array $rejects, public int $rejected, public int $filtered = 0)
    {
    }
}
