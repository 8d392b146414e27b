<?php

declare(strict_types=1);

namespace App\Http\Endpoints;

use App\Reservoir\TableShape;

/**
 * What a table would hold, from the records of the last try.
 */
final readonly class PreviewTable
{
    /** @var list<int> how many rows have no value, by column */
    public array $empty;

    /**
     * @param  list<list<string|null>>  $rows
     */
    public function __construct(public TableShape $shape, public array $rows)
    {
        $empty = array_fill(0, count($shape->columns), 0);
        foreach ($rows as $row) {
            foreach ($row as $place => $value) {
                $empty[$place] += $value === null ? 1 : 0;
            }
        }
        $this->empty = array_values($empty);
    }
}
