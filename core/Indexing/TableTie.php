<?php

declare(strict_types=1);

namespace DeepSpring\Indexing;

/**
 * Columns of a table that hold the key of another.
 */
final readonly class TableTie
{
    /**
     * @param  list<string>  $columns
     * @param  bool  $isParent  whether the rows are made from inside the records of the other
     */
    public function __construct(public array $columns, public string $other, public bool $isParent)
    {
    }
}
