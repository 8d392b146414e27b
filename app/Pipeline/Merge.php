<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Reservoir\StagedTables;

/**
 * Rows on top of those that are kept, told apart by the key of the main table: a new row takes the place
 * of the old one, and what is gone is left out. Readers see all of it or nothing.
 */
final class Merge implements Sink
{
    use FillsStagedTables;

    /** Rows that stayed as they were. */
    public int $stayed = 0;

    /**
     * @param  \Closure(): list<array<string, string>>  $gone  keys of records that are gone, by the names of their properties; asked for once all pages were taken
     * @param  array<string, string>  $properties  columns of the key → those names
     */
    public function __construct(StagedTables $staged, private readonly \Closure $gone, private readonly array $properties, int $run = 0, int $attempt = 1)
    {
        [$this->staged, $this->run, $this->attempt] = [$staged, $run, $attempt];
    }

    public function finish(array $state): void
    {
        // Nobody goes on from the middle of it: the changes are asked for again.
        $this->staged->commit(null);
        $this->staged->awaitLoading();
        $this->stayed = $this->staged->carryOver(($this->gone)(), $this->properties);
        $this->staged->finish($state);
    }
}
