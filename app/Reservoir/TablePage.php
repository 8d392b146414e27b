<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * Some rows of a kept table, and how to get those before and after.
 */
final readonly class TablePage
{
    /**
     * @param  list<list<string|null>>  $rows
     */
    public function __construct(public array $rows, public ?string $before, public ?string $after)
    {
    }
}
