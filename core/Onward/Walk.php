<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Phrase;

/**
 * One reading of a list: the pager of its style, and what holds for all styles: the ends by an
 * empty page, a short page or a maximum, the refusal of a page that came before, and what is found
 * on the way. After the end it can say what proves that the list is whole.
 */
final class Walk implements Pager
{
    /** Empty pages in a row that are looked past while the API itself says that there is more. */
    private const EMPTY_PAGES = 3;

    /** @var array<string, int> fingerprint → number of the page */
    private array $seen = [];

    /** @var array<string, PagingFinding> by code */
    private array $findings = [];

    private readonly Totals $totals;

    private int $empty = 0;

    private int $overlapping = 0;

    private int $overlapsWithOther = 0;

    private int $overlapsFrom = 0;

    /** Records on the first page, once there was a second. */
    private int $firstHeld = 0;

    private int $pages = 0;

    private int $records = 0;

    private ?End $end = null;

    /** The first answer, to see in it what a parameter may be called. */
    private ?Page $firstPage = null;

    /**
     * @param  (\Closure(array<string, mixed>): bool)|null  $isRefuted  whether another way is known not to work
     */
    public function __construct(private readonly Pager $pager, private readonly OnwardDefinition $onward, private readonly ?\Closure $isRefuted = null)
    {
        $this->totals = new Totals($onward->total);
    }

    public function first(): PageRequest
    {
        return $this->pager->first();
    }

    public function next(Page $page): PageRequest|End
    {
        $next = $this->judge($page);
        $this->end = $next instanceof End ? $next : null;

        return $next;
    }

    public function ahead(int $number): ?PageRequest
    {
        $isPast = $this->onward->maxPages !== null && $number > $this->onward->maxPages;

        return $isPast || $this->pages === 0 ? null : $this->pager->ahead($number);
    }

    public function endsEmpty(): bool
    {
        return $this->pager->endsEmpty();
    }

    public function statuses(): array
    {
        return $this->pager->statuses();
    }

    /**
     * The number of records there are in all, as the API says it.
     */
    public function total(): ?int
    {
        return $this->totals->latest();
    }

    /**
     * @return list<PagingFinding>
     */
    public function findings(): array
    {
        $totals = $this->totals->findings($this->records, $this->end?->isCutShort() ?? true);
        // A total that changes with the link's query says nothing of the list.
        $totals = isset($this->findings['link-query']) ? array_values(array_filter($totals, static fn (PagingFinding $one): bool => $one->code !== 'total-changed')) : $totals;

        return [...array_values($this->findings), ...$totals];
    }

    /**
     * Rows whose key was on the page before already.
     *
     * @param  int  $other  of them, those with other values than before
     */
    public function overlap(int $page, int $keys, int $other = 0): void
    {
        $this->overlapping += $keys;
        $this->overlapsWithOther += $other;
        $this->overlapsFrom = $this->overlapsFrom === 0 ? $page : $this->overlapsFrom;
        $isWindow = $this->onward->style === 'window' && ! $this->onward->toIsIncluded;
        $this->findings['overlap'] = new PagingFinding('overlap', self::count($this->overlapping, 'key').' came again on the page after (first on page '.$this->overlapsFrom.')'.($this->overlapsWithOther > 0 ? ', '.Phrase::number($this->overlapsWithOther).' of them with other values: the key does not tell all records apart, or records were changed while the list was read. Each key is kept once. ' : ': the pages overlap. Each is kept once. ').($this->overlapsWithOther > 0 ? '' : ($isWindow ? 'The API seems to count the end of a window in: set so.' : 'Records may have been added while the list was read; if it is so each time, look at how pages are counted.')));
    }

    /**
     * Why it ended and what proves that it is whole, in one sentence.
     */
    public function proof(): string
    {
        $what = self::count($this->pages, 'page').', '.self::count($this->records, 'record');
        $total = $this->totals->words($this->records);
        if ($this->end === null) {
            return "$what.";
        }
        if ($this->end->reason === EndReason::Total && $total !== '' && $this->records === $this->totals->latest()) {
            return "$what, $total.";
        }

        return "$what".($total === '' ? '' : ", $total").". {$this->end->sentence}".($total === '' && in_array($this->end->reason, [EndReason::EmptyPage, EndReason::ShortPage], true) ? ' Nothing says how many there should be.' : '');
    }

    public function memory(): array
    {
        return [
            'pager' => $this->pager->memory(), 'totals' => $this->totals->memory(), 'pages' => $this->pages, 'records' => $this->records, 'first_held' => $this->firstHeld, 'empty' => $this->empty, 'overlap' => [$this->overlapping, $this->overlapsFrom, $this->overlapsWithOther],
            'findings' => array_map(static fn (PagingFinding $finding): array => $finding->toArray(), $this->findings),
            'seen' => array_slice($this->seen, -8, null, true),
        ];
    }

    public function remember(array $memory): void
    {
        $this->pager->remember($memory['pager']);
        $this->totals->remember($memory['totals']);
        [$this->pages, $this->records, $this->firstHeld, $this->empty] = [$memory['pages'], $memory['records'], $memory['first_held'], $memory['empty']];
        [$this->overlapping, $this->overlapsFrom, $this->overlapsWithOther] = $memory['overlap'] + [2 => 0];
        $this->findings = array_map(PagingFinding::fromArray(...), $memory['findings']);
        $this->seen = array_map(intval(...), $memory['seen']);
    }

    private function judge(Page $page): PageRequest|End
    {
        [$this->pages, $this->records] = [$page->number, $page->recordsSoFar];
        $this->totals->see($page);
        if ($this->onward->style === 'none') {
            return $this->pager->next($page);
        }
        if ($page->number === 1) {
            $this->firstHeld = $page->records;
        }
        if ($page->records > 0) {
            $this->refuseRepeated($page);
        }
        $this->firstPage = $page->number === 1 ? $page : null;
        $next = $this->pager->next($page);
        if ($page->records === 0 && $this->pager->endsEmpty()) {
            return $this->pastEmpty($page, $next);
        }
        if ($next instanceof End) {
            return $next;
        }
        $this->compareLink($page, $next);
        $this->empty = $page->records === 0 ? $this->empty : 0;
        $this->noticeSizes($page);
        if ($this->onward->shortPageEnds && $page->records < ($this->onward->size ?? $this->firstHeld)) {
            return new End(EndReason::ShortPage, "Page {$page->number} holds ".Phrase::count($page->records, 'record').', fewer than '.($this->onward->size !== null ? "the {$this->onward->size} asked for." : "the {$this->firstHeld} of the first."));
        }
        if ($this->onward->maxPages !== null && $page->number >= $this->onward->maxPages) {
            return new End(EndReason::MaxPages, 'Stopped after '.Phrase::count((int) $this->onward->maxPages, 'page').', as set; there is more.');
        }
        if ($this->onward->maxRecords !== null && $page->recordsSoFar >= $this->onward->maxRecords) {
            return new End(EndReason::MaxRecords, 'Stopped after '.Phrase::count($page->recordsSoFar, 'record').', as set; there is more.');
        }

        return $next;
    }

    /**
     * Whether the link to the second page asks for what the first was asked for.
     */
    private function compareLink(Page $page, PageRequest $next): void
    {
        $change = $page->number === 1 && $next->uri !== null ? LinkQuery::change($page->uri, $next->uri, 2) : null;
        if ($change !== null) {
            $this->findings['link-query'] = new PagingFinding('link-query', $change, true);
        }
    }

    /**
     * An empty page is the end, unless the API itself says that there is more: then the next ones
     * are looked at, a few.
     */
    private function pastEmpty(Page $page, PageRequest|End $next): PageRequest|End
    {
        $empty = new End(EndReason::EmptyPage, "Page {$page->number} is empty.");
        if ($next instanceof End) {
            return in_array($next->reason, [EndReason::PastEnd, EndReason::Total, EndReason::NoMore], true) ? $next : $empty;
        }
        $saysMore = match ($this->onward->style) {
            'cursor' => $this->onward->fromLast === null,
            'next-link', 'link-header' => true,
            default => $this->totals->latest() !== null && $page->recordsSoFar < $this->totals->latest(),
        };
        if (! $saysMore || ++$this->empty >= self::EMPTY_PAGES || $this->onward->maxPages !== null && $page->number >= $this->onward->maxPages) {
            if ($this->empty > 1) {
                unset($this->findings['empty-page']);

                return new End(EndReason::EmptyPage, "Pages up to {$page->number} are empty, {$this->empty} in a row, though the API says that there is more.");
            }

            return $empty;
        }
        $this->findings['empty-page'] = new PagingFinding('empty-page', "Page {$page->number} is empty, though the API says that there is more; it was read on.");

        return $next;
    }

    private function refuseRepeated(Page $page): void
    {
        $earlier = $this->seen[$page->fingerprint] ?? null;
        if ($earlier !== null) {
            $isFirst = $page->number === 2 && $earlier === 1;
            throw $isFirst && $this->onward->carrier() !== '' && ! in_array($this->onward->style, ['next-link', 'link-header'], true)
                ? OnwardFailure::ignoredParameter($this->onward->carrier(), $this->firstPage === null ? null : Hints::other($this->firstPage, $this->onward, $this->isRefuted))
                : OnwardFailure::repeatedPage($page->number, $earlier, $this->onward->carrier());
        }
        $this->seen[$page->fingerprint] = $page->number;
    }

    private function noticeSizes(Page $page): void
    {
        $size = $this->onward->size;
        if ($page->number === 1 && $size !== null && $page->records < $size && $page->records > 0 && ! in_array($this->onward->style, ['window', 'partition'], true)) {
            $this->findings['size-lowered'] = new PagingFinding('size-lowered', "The page size asked for is $size, and {$page->records} came: the API allows no more at a time. Nothing is lost by it.");
        }
        if ($page->number === 1 && $size !== null && $page->records > $size) {
            $this->findings['size-ignored'] = new PagingFinding('size-ignored', "The page size asked for is $size, and {$page->records} came: the API ignores ".($this->onward->sizeAs ?? 'the size').'.');
        }
        if ($this->onward->style === 'offset' && $page->number > 1 && $page->records < $this->firstHeld && ! isset($this->findings['short-page']) && ! $this->onward->shortPageEnds && ($this->totals->latest() ?? 0) > $page->recordsSoFar) {
            $this->findings['short-page'] = new PagingFinding('short-page', "Page {$page->number} holds ".Phrase::count($page->records, 'record')." where the first held {$this->firstHeld}, and is not the last.");
        }
    }

    private static function count(int $number, string $one): string
    {
        return number_format($number, 0, '.', "\u{202f}")." $one".($number === 1 ? '' : 's');
    }
}
