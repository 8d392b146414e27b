<?php

declare(strict_types=1);

namespace App\Outlets;

/**
 * How many rows of other feeds may still come with a page.
 */
final class RelatedRowsLeft
{
    private int $left = RelatedRows::MOST;

    /**
     * @throws FeedProblem
     */
    public function take(): void
    {
        if (--$this->left < 0) {
            throw new FeedProblem(400, 'More than '.RelatedRows::MOST.' rows would come with this page. Ask for smaller pages, or for fewer rows with $top and $filter inside $expand.', [], '$expand');
        }
    }
}
