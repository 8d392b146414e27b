<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Reservoir\ConnectionLost;
use App\Reservoir\KeepFailed;
use App\Reservoir\RunSuperseded;
use DeepSpring\Flatten\RowBatch;

/**
 * Where rows go. What a pipeline is for is said by its sink alone.
 */
interface Sink
{
    /**
     * Gets ready for rows.
     *
     * @return array<string, mixed>|null how far an earlier process got, as it was committed; null when it begins anew
     *
     * @throws KeepFailed
     */
    public function begin(): ?array;

    /**
     * @throws KeepFailed
     * @throws TooManyChanges
     */
    public function take(ReadPage $page, RowBatch $batch): void;

    /**
     * Whether enough has come together for a commit.
     */
    public function isDue(): bool;

    /**
     * What came so far is safe, together with how far the reading got.
     *
     * @param  array<string, mixed>|null  $state  null where nobody can go on
     *
     * @throws KeepFailed
     * @throws ConnectionLost
     * @throws RunSuperseded
     */
    public function commit(?array $state): void;

    /**
     * All rows are there: the counts are final.
     *
     * @param  array<string, mixed>  $state
     *
     * @throws KeepFailed
     * @throws ConnectionLost
     * @throws RunSuperseded
     */
    public function finish(array $state): void;

    /**
     * What was filled takes effect.
     */
    public function complete(): void;

    /**
     * Lets go of what it held.
     *
     * @param  bool  $keep  whether what is not complete stays, to be gone on with
     */
    public function end(bool $keep = false): void;
}
