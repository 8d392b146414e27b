<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * An index of a kept table, as the database has it.
 */
final readonly class IndexThere
{
    /**
     * @param  list<string>  $columns
     * @param  int|null  $bytes  null where the database does not tell
     */
    public function __construct(public array $columns, public ?int $bytes)
    {
    }
}
