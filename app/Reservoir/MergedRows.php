<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * Which records of a table were merged, so that the others need not be looked at.
 */
final readonly class MergedRows
{
    /**
     * @param  string  $stage  the table with their keys, beside those that are kept
     * @param  array<string, string>  $on  columns of the table → columns of the stage, by which rows belong to a record
     * @param  bool  $hasGone  whether some records went, which are not in the stage
     */
    public function __construct(public string $stage, public array $on, public bool $hasGone)
    {
    }
}
