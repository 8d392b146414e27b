<?php

declare(strict_types=1);

namespace App\Queries;

use App\Queries\Live\LiveResult;

final readonly class Result
{
    /**
     * @param  list<ResultColumn>  $columns
     * @param  list<list<string|null>>  $rows
     * @param  list<LiveResult>  $live  tables that were read from their services for it
     */
    public function __construct(public array $columns, public array $rows, public bool $cutShort, public int $milliseconds, public array $live = [])
    {
    }
}
