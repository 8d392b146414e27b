<?php

declare(strict_types=1);

namespace App\Outlets;

use App\Outlets\OData\FeedLink;

/**
 * Rows of another feed that come with each row of a page.
 */
final readonly class Expansion
{
    /**
     * @param  FeedQuestion  $question  what is asked of the other feed, for each row
     */
    public function __construct(public FeedLink $link, public FeedQuestion $question)
    {
    }
}
