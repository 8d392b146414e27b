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
     * @param  list<FeedColumn>  $columns
     * @param  list<list<string|null>>  $rows  as the database gives them, by the places of the columns
     * @param  string|null  $next  where to go on; null after the last page
     * @param  int|null  $total  rows that the condition lets through; null where nobody asked
     */
    public function __construct(public array $columns, public array $rows, public ?string $next, public ?int $total)
    {
    }
}
