<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\Environment;
use DeepSpring\History\StateDifference;
use Illuminate\Support\Carbon;

/**
 * Earlier states of kept tables, in the same place as these.
 */
interface TableHistory
{
    public function has(Environment $environment, string $table): bool;

    /**
     * Copies a table as it is. The copy is there whole, or not at all.
     *
     * @param  string  $owner  whose stage is open
     */
    public function copy(Environment $environment, string $owner, string $table, string $as): void;

    /**
     * @param  list<string>  $tables
     */
    public function drop(Environment $environment, array $tables): void;

    /**
     * Bytes on the disk, with indexes.
     *
     * @param  list<string>  $tables
     * @return array<string, int> by name; those that are there
     */
    public function bytes(Environment $environment, array $tables): array;

    /**
     * Tables whose names are those of earlier states.
     *
     * @return list<string>
     */
    public function states(Environment $environment): array;

    /**
     * Takes the rows of a table into its versions: what is new or has changed is true from then on, what is gone or
     * has changed was true until then. All of it, or nothing.
     *
     * @param  list<string>  $key
     * @param  list<string>  $columns  of the table
     * @param  MergedRows|null  $merged  where only these rows can have changed
     * @return MergeCounts new, changed and gone
     *
     * @throws KeepFailed where columns have become something that the versions before cannot be
     */
    public function record(Environment $environment, string $table, string $versions, array $key, array $columns, Carbon $at, ?MergedRows $merged = null): MergeCounts;

    /**
     * Versions that are no longer true and ended before a time, or are more than so many in all; the oldest go first.
     *
     * @return array{int, int} how many went, how many are there
     */
    public function thin(Environment $environment, string $versions, Carbon $before, int $rows): array;

    /**
     * When versions began and ended.
     *
     * @param  list<string>  $key
     * @return list<array{at: string, came: int, changed: int, went: int}> the newest first
     */
    public function moments(Environment $environment, string $versions, array $key, int $most): array;

    /**
     * @param  int  $shown  rows of each sort
     * @param  int  $longest  seconds of a statement
     *
     * @throws KeepFailed
     */
    public function compare(Environment $environment, StateRows $before, StateRows $after, int $shown, int $longest): StateDifference;
}
