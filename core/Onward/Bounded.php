<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

/**
 * What every style has in common: the ends by an empty page, a short page or a maximum, and the
 * refusal of a page that came before.
 */
final class Bounded implements Pager
{
    /** @var array<string, int> fingerprint → number of the page */
    private array $seen = [];

    public function __construct(private readonly Pager $pager, private readonly OnwardDefinition $onward)
    {
    }

    public function first(): PageRequest
    {
        return $this->pager->first();
    }

    public function next(Page $page): PageRequest|End
    {
        if ($this->onward->style === 'none') {
            return $this->pager->next($page);
        }
        if ($page->records === 0) {
            return new End(EndReason::EmptyPage, "Page {$page->number} is empty.");
        }
        if (isset($this->seen[$page->fingerprint])) {
            throw OnwardFailure::repeatedPage($page->number, $this->seen[$page->fingerprint], $this->onward->sendAs === '' ? (string) $this->onward->link : $this->onward->sendAs);
        }
        $this->seen[$page->fingerprint] = $page->number;

        $next = $this->pager->next($page);
        if ($next instanceof End) {
            return $next;
        }
        if ($this->onward->shortPageEnds && $this->onward->size !== null && $page->records < $this->onward->size) {
            return new End(EndReason::ShortPage, "Page {$page->number} holds {$page->records} records, fewer than the {$this->onward->size} asked for.");
        }
        if ($this->onward->maxPages !== null && $page->number >= $this->onward->maxPages) {
            return new End(EndReason::MaxPages, "Stopped after {$this->onward->maxPages} pages, as set; there is more.");
        }
        if ($this->onward->maxRecords !== null && $page->recordsSoFar >= $this->onward->maxRecords) {
            return new End(EndReason::MaxRecords, "Stopped after {$page->recordsSoFar} records, as set; there is more.");
        }

        return $next;
    }
}
