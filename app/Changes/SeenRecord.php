<?php

declare(strict_types=1);

namespace App\Changes;

use DeepSpring\Flatten\RowBatch;

/**
 * A record as the service answered with it, in the terms of its table.
 */
final readonly class SeenRecord
{
    /**
     * @param  array<string, string|null>  $row  column → value
     * @param  RowBatch  $batch  the same with its rows in the branch tables
     * @param  bool  $isWhole  whether the answer has all that the table reads of a record
     * @param  list<int>  $tables  numbers of the tables whose rows it has: of branches it may say nothing
     * @param  string|null  $etag  by which the service tells this state from others
     * @param  string  $body  the answer itself
     */
    public function __construct(public array $row, public RowBatch $batch, public bool $isWhole, public array $tables, public ?string $etag, public string $body)
    {
    }
}
