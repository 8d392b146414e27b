<?php

declare(strict_types=1);

namespace App\Queries;

use App\Queries\Live\LiveResult;
use App\Reservoir\StatementPlan;
use App\Schedules\AskedTable;

/**
 * A statement that is being answered: its rows come one at a time as the database gives them.
 */
final readonly class OpenResult
{
    /**
     * @param  list<ResultColumn>  $columns
     * @param  \Generator<int, list<string|null>>  $rows
     * @param  list<LiveResult>  $live  tables that were read from their services for it
     * @param  list<AskedTable>  $asked  tables whose rows were too old
     */
    public function __construct(public array $columns, public \Generator $rows, public array $live, public ?StatementPlan $plan, public array $asked, public LookedAt $looked = new LookedAt)
    {
    }
}
