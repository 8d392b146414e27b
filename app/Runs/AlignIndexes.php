<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\KeptTable;
use App\Reservoir\IndexMustWait;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/**
 * Has the indexes of a table made what is wanted of them. Comes again while the table is being refreshed.
 */
final class AlignIndexes implements ShouldQueue
{
    use Queueable;

    /** Seconds between two tries. */
    private const AGAIN = 5;

    /** As often as it takes: a refresh can take hours. */
    public int $tries = 0;

    public function __construct(public readonly int $table)
    {
    }

    public function handle(TableIndexing $indexing): void
    {
        $table = KeptTable::query()->with('environment')->find($this->table);
        try {
            $table === null || $indexing->align($table);
        } catch (IndexMustWait) {
            $this->release(self::AGAIN);
        }
    }
}
