<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

/**
 * The address of the next page, in a `Link` header (RFC 8288).
 */
final class LinkHeader implements Pager
{
    use FollowsLinks;

    public function next(Page $page): PageRequest|End
    {
        $links = WebLink::all($page->headers['link'] ?? '');
        foreach ($links as $link) {
            if (in_array(strtolower($this->onward->rel), $link->rels, true) && $link->isAbout($page->uri)) {
                return $this->follow($page, $link->target, "Link, rel={$this->onward->rel},");
            }
        }

        return new End(EndReason::NoNext, $links === []
            ? "Page {$page->number} has no Link header."
            : "No link on page {$page->number} has the relation {$this->onward->rel}.");
    }
}
