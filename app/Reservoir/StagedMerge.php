<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\Environment;

/**
 * Staged rows beside those that are kept, compared by the key of their records.
 */
interface StagedMerge
{
    /**
     * Staged rows into the tables that are kept, which stay where they are; readers see all of it or nothing.
     * They are in place then.
     *
     * @param  (\Closure(CheckedRows): void)|null  $look  at the tables as they would be; what it throws leaves them as they were
     *
     * @throws KeepFailed
     * @throws RunSuperseded
     */
    public function run(?\Closure $look = null, ?Environment $environment = null): MergeCounts;

    /**
     * Leaves out staged records that are marked as deleted.
     *
     * @return int how many
     */
    public function leaveOutDeleted(): int;

    /**
     * How the records that were staged differ from those that are kept: which are new, which are gone.
     */
    public function difference(): MergeCounts;

    /**
     * Takes staged records back, with all that belongs to them.
     *
     * @param  list<list<string>>  $keys  of records
     */
    public function takeBack(array $keys): void;
}
