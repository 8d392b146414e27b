<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;

/**
 * Knows how one style of list goes on. A pager serves one run: it may remember what it has seen,
 * and can hand that memory to a pager made anew in another process.
 */
interface Pager
{
    public function first(): PageRequest;

    /**
     * @throws OnwardFailure
     */
    public function next(Page $page): PageRequest|End;

    /**
     * The request for a page after those that were seen, when it does not depend on the one before
     * it; null when it does, or when there is no such page.
     *
     * @param  int  $number  counts from 1
     */
    public function ahead(int $number): ?PageRequest;

    /**
     * Whether a page without records can be the end; it is not where pages are known beforehand.
     */
    public function endsEmpty(): bool;

    /**
     * Statuses that are an answer here, beside those of the endpoint, such as 206 and 416.
     *
     * @return list<int>
     */
    public function statuses(): array;

    /**
     * What it needs to go on from the last page that it saw. Goes through JSON.
     *
     * @return array<string, mixed>
     */
    public function memory(): array;

    /**
     * @param  array<string, mixed>  $memory
     */
    public function remember(array $memory): void;
}
