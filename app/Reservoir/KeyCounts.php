<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * How far some columns tell the rows of a table apart.
 */
final readonly class KeyCounts
{
    /**
     * @param  int  $empty  rows in which one of the columns has no value
     * @param  int  $different  values, of those rows in which all have one
     */
    public function __construct(public int $rows, public int $empty, public int $different)
    {
    }
}
