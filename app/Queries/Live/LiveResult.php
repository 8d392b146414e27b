<?php

declare(strict_types=1);

namespace App\Queries\Live;

use DeepSpring\OData\Pushdown\PushedPart;

/**
 * What was read of a table that is not kept, and who did which part of the query.
 */
final readonly class LiveResult
{
    /**
     * @param  list<PushedPart>  $parts
     */
    public function __construct(public LiveTable $table, public string $address, public int $requests, public int $rows, public int $rejects, public int $milliseconds, public array $parts, public int $columns)
    {
    }
}
