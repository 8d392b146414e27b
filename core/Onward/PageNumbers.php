<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

/**
 * Pages counted by number, up to a number of pages, a total of records, or an empty page.
 */
final class PageNumbers implements Pager
{
    public function __construct(private readonly OnwardDefinition $onward)
    {
    }

    public function first(): PageRequest
    {
        return $this->request($this->onward->first);
    }

    public function next(Page $page): PageRequest|End
    {
        $pages = $this->number($this->onward->pages, $page);
        if ($pages !== null && $page->number >= $pages) {
            return new End(EndReason::Total, "Page {$page->number} is the last of $pages.");
        }
        $total = $this->number($this->onward->total, $page);
        if ($total !== null && $page->recordsSoFar >= $total) {
            return new End(EndReason::Total, "The total says $total records, and {$page->recordsSoFar} came.");
        }

        return $this->request($this->onward->first + $page->number);
    }

    private function request(int $number): PageRequest
    {
        return new PageRequest([$this->onward->sendAs => (string) $number] + $this->onward->sizeQuery());
    }

    private function number(?\DeepSpring\Answer\JsonPath\JsonPath $path, Page $page): ?int
    {
        $found = $path?->values($page->document)[0] ?? null;

        return is_int($found) || (is_string($found) && ctype_digit($found)) ? (int) $found : null;
    }
}
