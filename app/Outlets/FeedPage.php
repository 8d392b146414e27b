<?php

declare(strict_types=1);

namespace App\Outlets;

use DeepSpring\Feed\FeedColumn;

/**
 * Rows that are answered at once.
 */
final readonly class FeedPage
{
    /**
     * @param  list<FeedColumn>  $columns  that are answered
     * @param  list<list<string|null>>  $rows  as the database gives them, by the places of the columns; behind these may stand more
     * @param  string|null  $next  where to go on; null after the last page
     * @param  int|null  $total  rows that the condition lets through; null where nobody asked
     * @param  array<string, int>  $places  of all columns that were read, by name
     */
    public function __construct(public array $columns, public array $rows, public ?string $next, public ?int $total, public array $places = [])
    {
    }
}
