<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

/**
 * Knows how one style of list goes on. A pager serves one run: it may remember what it has seen.
 */
interface Pager
{
    public function first(): PageRequest;

    /**
     * @throws OnwardFailure
     */
    public function next(Page $page): PageRequest|End;
}
