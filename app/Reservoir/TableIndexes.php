<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\Environment;
use App\Models\KeptTable;
use DeepSpring\Indexing\TableFacts;

/**
 * Indexes of kept tables besides their keys.
 */
interface TableIndexes
{
    /** Whose staged tables are copies to measure with, before the number of their table. */
    public const OWNER = 'cost';

    /**
     * @return list<IndexThere>
     */
    public function there(Environment $environment, string $table): array;

    /**
     * Builds one while the table is read. Nothing happens when it is there.
     *
     * @param  list<string>  $columns
     *
     * @throws KeepFailed with a sentence
     * @throws IndexMustWait while the table is being refreshed, or statements hold it
     */
    public function add(KeptTable $table, array $columns): void;

    /**
     * @param  list<string>  $columns
     *
     * @throws IndexMustWait
     */
    public function drop(KeptTable $table, array $columns): void;

    /**
     * What is known of a table, and of some columns from some thousand of its rows.
     *
     * @param  list<string>  $columns
     */
    public function facts(KeptTable $table, array $columns): TableFacts;

    /**
     * Builds one over a copy of some of the rows, that nobody sees, and measures it.
     *
     * @param  list<string>  $columns
     */
    public function cost(KeptTable $table, array $columns): IndexCost;
}
