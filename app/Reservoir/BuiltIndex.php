<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * What came of building an index over staged rows.
 */
final readonly class BuiltIndex
{
    /**
     * @param  list<string>  $columns
     * @param  string|null  $fault  why there is none; the rows are as good without it
     */
    public function __construct(public string $table, public array $columns, public int $milliseconds, public ?string $fault = null)
    {
    }
}
