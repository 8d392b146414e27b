<?php

declare(strict_types=1);

namespace App\Reservoir;

use Illuminate\Support\Carbon;

/**
 * The rows of one state of a table: a table of their own, or those versions that were true at a time.
 */
final readonly class StateRows
{
    /**
     * @param  list<string>  $columns
     * @param  list<string>  $key
     * @param  Carbon|null  $at  of versions
     */
    public function __construct(public string $table, public array $columns, public array $key, public ?Carbon $at = null)
    {
    }
}
