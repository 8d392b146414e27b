<?php

declare(strict_types=1);

namespace App\Reservoir;

use DeepSpring\Indexing\TableUse;

/**
 * How the database is going to answer a statement.
 */
final readonly class StatementPlan
{
    /**
     * @param  list<TableUse>  $uses
     * @param  array<string, list<list<string>>>  $indexes  columns of the indexes that serve it, by table; not those of keys
     * @param  list<string>  $tables  that it reads
     */
    public function __construct(public array $uses, public array $indexes, public array $tables)
    {
    }
}
