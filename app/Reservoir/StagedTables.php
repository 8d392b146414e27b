<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\Environment;
use DeepSpring\Flatten\RowBatch;

/**
 * New tables beside the old ones, which stay readable until all new ones take their place in one
 * step. Rows are loaded together with how far the reading got, so another process can go on from there.
 */
interface StagedTables
{
    /**
     * Goes on with what an earlier process of the same run left, or begins anew.
     *
     * @param  int  $run  whose rows these are; 0 when they are nobody's to go on with
     * @param  int  $attempt  counts up with each process that works for the run
     * @return array<string, mixed>|null how far the earlier process got, as it was committed
     *
     * @throws KeepFailed when another one is at work on the same tables
     */
    public function begin(int $run = 0, int $attempt = 1): ?array;

    /**
     * Has the answers kept beside the rows; to be called before it begins.
     *
     * @param  int  $most  bytes of them, before they are deflated, after which none is kept
     */
    public function keepPages(int $most): void;

    /**
     * Says that probably only changes of what is kept will come, so that its columns are as wide as those from the
     * beginning; to be called before it begins, and over with its end.
     */
    public function expectChanges(): void;

    public function addPage(int $number, string $type, string $body): void;

    /**
     * A part of the pages would be no use, so none is kept.
     */
    public function dropPages(): void;

    public function add(RowBatch $batch): void;

    /**
     * Whether enough rows, or enough seconds, have come together for a commit.
     *
     * @param  bool  $isWorth  whether what is there is worth a commit, where nothing has to be waited for
     */
    public function isDue(bool $isWorth = false): bool;

    /**
     * Begins to load all rows so far, together with how far the reading got: both are there after
     * it, or neither.
     *
     * @param  array<string, mixed>|null  $position  null in the middle of a page, where nobody can go on
     *
     * @throws KeepFailed
     * @throws ConnectionLost
     * @throws RunSuperseded
     */
    public function commit(?array $position): void;

    /**
     * Waits for the rows that are being loaded and counts them.
     *
     * @throws KeepFailed
     * @throws ConnectionLost
     * @throws RunSuperseded
     */
    public function awaitLoading(): void;

    /**
     * Loads what is left, so that the counts are final.
     *
     * @param  array<string, mixed>  $position
     *
     * @throws KeepFailed
     * @throws ConnectionLost
     * @throws RunSuperseded
     */
    public function finish(array $position = []): void;

    /**
     * Takes over rows of the kept main table whose keys were not loaded anew, without those that are gone.
     *
     * @param  list<array<string, string>>  $gone  keys by the names of their properties
     * @param  array<string, string>  $properties  columns of the key → those names
     * @return int rows that were taken over
     */
    public function carryOver(array $gone = [], array $properties = []): int;

    /**
     * What was staged beside what is kept, record by record.
     */
    public function merge(MergeRule $rule): StagedMerge;

    /**
     * What was staged, to be asked for rows that break a rule. All rows have to be loaded.
     */
    public function checked(Environment $environment): CheckedRows;

    /**
     * Builds indexes over all rows that are there.
     *
     * @param  array<string, list<list<string>>>  $wanted  columns of each, by the name of the table
     * @return list<BuiltIndex>
     */
    public function index(array $wanted): array;

    /**
     * Looks how the values of some columns are spread, so that statements are planned by it.
     *
     * @param  array<string, list<string>>  $columns  by the name of the table; those that are not there are left out
     */
    public function survey(array $columns): void;

    /**
     * Tables that stay under another name when new ones take their place.
     *
     * @param  array<string, string>  $names  name of the table → the other name
     */
    public function leaveOld(array $names): void;

    /**
     * All new tables in place of the old ones, in one step.
     */
    public function putInPlace(): void;

    /**
     * Whether an earlier process put them in place already.
     */
    public function isInPlace(): bool;

    /**
     * Lets others begin.
     *
     * @param  bool  $keep  whether what was not put in place stays, to be gone on with
     */
    public function end(bool $keep = false): void;

    /**
     * @return list<TableShape> the main table first
     */
    public function shapes(): array;

    public function counts(): StagedCounts;

    /**
     * The staged tables as a statement can read them before they are in place.
     *
     * @return list<LentTable>
     */
    public function lent(): array;
}
