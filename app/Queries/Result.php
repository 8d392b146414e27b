<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\KeptTable;
use App\Queries\Live\LiveResult;
use App\Schedules\AskedTable;
use Illuminate\Support\Carbon;

final readonly class Result
{
    /** Milliseconds. */
    private const SLOW = 1000;

    /**
     * @param  list<ResultColumn>  $columns
     * @param  list<list<string|null>>  $rows
     * @param  list<LiveResult>  $live  tables that were read from their services for it
     * @param  list<AskedTable>  $asked  tables whose rows were too old
     * @param  list<KeptTable>  $reads  kept tables that it reads
     * @param  array<string, list<list<string>>>  $indexes  columns of those that served it, by table
     * @param  int|null  $looked  rows that the database looked at; null where not all were taken
     * @param  Carbon|null  $readAt  when it was read, of one that was kept
     * @param  list<string>  $tables  kept tables of which it compares, joins, groups or sorts columns
     */
    public function __construct(public array $columns, public array $rows, public bool $cutShort, public int $milliseconds, public array $live = [], public array $tables = [], public array $asked = [], public array $reads = [], public array $indexes = [], public ?Carbon $readAt = null, public ?int $looked = null)
    {
    }

    /**
     * Whether it took so long that an index is worth a look.
     */
    public function isSlow(): bool
    {
        return $this->milliseconds >= self::SLOW && $this->tables !== [];
    }
}
