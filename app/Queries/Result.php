<?php

declare(strict_types=1);

namespace App\Queries;

final readonly class Result
{
    /**
     * @param  list<ResultColumn>  $columns
     * @param  list<list<string|null>>  $rows
     */
    public function __construct(public array $columns, public array $rows, public bool $cutShort, public int $milliseconds)
    {
    }
}
