<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

/**
 * The address of the next page, in each answer.
 */
final class NextLink implements Pager
{
    use FollowsLinks;

    public function next(Page $page): PageRequest|End
    {
        $link = $this->onward->link?->values($page->document)[0] ?? null;
        if ($link === null || $link === '' || $link === false) {
            return new End(EndReason::NoNext, "{$this->onward->link} holds no link on page {$page->number}.");
        }
        if (! is_string($link)) {
            throw OnwardFailure::notALink($page->number, (string) $this->onward->link);
        }

        return $this->follow($page, $link, (string) $this->onward->link);
    }
}
