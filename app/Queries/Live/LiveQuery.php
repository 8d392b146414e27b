<?php

declare(strict_types=1);

namespace App\Queries\Live;

use App\Reservoir\StagedTables;

/**
 * A statement whose tables are there for as long as it runs.
 */
final class LiveQuery
{
    /**
     * @param  list<LiveResult>  $results
     * @param  list<StagedTables>  $stagings
     * @param  list<string>  $granted  names of tables
     */
    public function __construct(public readonly string $sql, public readonly array $results, private array $stagings, public readonly array $granted)
    {
    }

    public function end(): void
    {
        foreach ($this->stagings as $staging) {
            $staging->end();
        }
        $this->stagings = [];
    }

    public function __destruct()
    {
        $this->end();
    }
}
