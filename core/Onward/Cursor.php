<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

/**
 * A token in each answer that asks for the next one.
 */
final class Cursor implements Pager
{
    /** @var array<array-key, true> */
    private array $seen = [];

    public function __construct(private readonly OnwardDefinition $onward)
    {
    }

    public function first(): PageRequest
    {
        return new PageRequest($this->onward->sizeQuery());
    }

    public function next(Page $page): PageRequest|End
    {
        $more = $this->onward->more?->values($page->document)[0] ?? null;
        if ($more === false || $more === 0 || $more === 'false') {
            return new End(EndReason::NoMore, "{$this->onward->more} is false on page {$page->number}.");
        }
        $cursor = $this->onward->next?->values($page->document)[0] ?? null;
        if ($cursor === null || $cursor === '') {
            return $more === null
                ? new End(EndReason::NoNext, "{$this->onward->next} holds no cursor on page {$page->number}.")
                : throw OnwardFailure::cursorMissing($page->number, (string) $this->onward->next, (string) $this->onward->more);
        }
        if (! is_string($cursor) && ! is_int($cursor)) {
            throw OnwardFailure::notACursor($page->number, (string) $this->onward->next);
        }
        $cursor = (string) $cursor;
        if (isset($this->seen[$cursor])) {
            throw OnwardFailure::repeatedCursor($page->number, $cursor);
        }
        $this->seen[$cursor] = true;

        return new PageRequest([$this->onward->sendAs => $cursor] + $this->onward->sizeQuery());
    }
}
