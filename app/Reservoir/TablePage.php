<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * Some rows of a kept table, and how to get those before and after.
 */
final readonly class TablePage
{
    /**
     * @param  list<list<string|null>>  $rows
     * @param  list<string>  $marks  of each row, by which `TableReader::row` finds it again
     * @param  StatementPlan|null  $plan  of reading them in another order than that of the key
     */
    public function __construct(public array $rows, public ?string $before, public ?string $after, public ?StatementPlan $plan = null, public array $marks = [])
    {
    }
}
