<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

/**
 * The number of this page, of the next, or of all pages, in the answer or its headers.
 */
final class PageSign implements Sign
{
    private const HEADERS = ['/^(?:x-)?(?:total-pages|page-count|pages|pagination-page-count)$/' => 'pages', '/^(?:x-)?(?:total-count|total|total-items|total-results|pagination-total-count|count)$/' => 'total', '/^(?:x-)?(?:page|current-page|page-number|pagination-current-page)$/' => 'page'];

    public function propose(FirstAnswer $answer): array
    {
        $header = $this->headers($answer);
        $pages = $answer->figure(ParameterNames::PAGES, 1);
        $page = $answer->figure(ParameterNames::PAGE);
        $page = $page !== null && $page->plain === 'number' && $page->parent === '' && $pages === null ? null : $page;
        $next = $answer->member(ParameterNames::NEXT_PAGE, static fn (AnswerMember $member): bool => $member->number() !== null);
        $next = $next !== null && ($page === null ? $next->number() === 2 : $next->number() === $page->number() + 1) ? $next : null;
        $parameter = $answer->parameter(ParameterNames::PAGE_SENT);
        $stated = $pages !== null || isset($header['pages']) || $next !== null;
        if (! $stated && $page === null && ! isset($header['page'])) {
            return [];
        }
        // A page number without anything that says how many there are can be anything.
        if (! $stated && $parameter === null && $answer->size() === [] && $answer->figure(ParameterNames::TOTAL, 1) === null && ! isset($header['total'])) {
            return [];
        }
        // Where there is an offset and no number of pages, the offset is what is sent.
        if (! $stated && $page === null && $answer->figure(ParameterNames::OFFSET) !== null) {
            return [];
        }
        $sendAs = $parameter ?? ($page === null ? 'page' : (in_array($page->plain, ['number', 'currentpage', 'curpage'], true) ? 'page' : $page->name));
        $total = $answer->figure(ParameterNames::TOTAL, 1);
        $totalAt = $pages !== null || isset($header['pages']) ? ['pages' => $pages->path ?? $header['pages']] : ($total !== null && $total->number() >= count($answer->records) ? ['total' => $total->path] : (isset($header['total']) ? ['total' => $header['total']] : []));
        if (isset($totalAt['pages']) && $total !== null && $total->number() >= count($answer->records)) {
            $totalAt['total'] = $total->path;
        }
        $first = ctype_digit($answer->sent[$sendAs] ?? '') ? null : ($page?->number() === 0 ? 0 : null);
        $reason = match (true) {
            $next !== null => "{$next->path} is {$next->number()}".($page === null ? '' : " and {$page->path} is {$page->number()}"),
            $page !== null && $pages !== null => "{$page->path} is {$page->number()} and {$pages->path} is {$pages->number()}",
            $pages !== null => "{$pages->path} is {$pages->number()}",
            $page !== null => "{$page->path} is {$page->number()}",
            default => 'the header '.($header['pages'] ?? $header['page'] ?? '').' counts pages',
        };

        return [new PagingProposal(['style' => 'page', 'send_as' => $sendAs] + ($first === 0 ? ['first' => 0] : []) + $answer->size() + $totalAt, ucfirst($reason).'.', "With $sendAs the second page differs from the first".(isset($totalAt['total']) ? ', and at the end as many records have come as the total says.' : (isset($totalAt['pages']) ? ', and the last page is the one that was told.' : ', and an empty page is the end.')), $stated ? ($page !== null || $next !== null || $parameter !== null ? 90 : 80) : ($parameter !== null ? 86 : 74))];
    }

    /**
     * @return array<string, string> what → the header that says it
     */
    private function headers(FirstAnswer $answer): array
    {
        $found = [];
        foreach ($answer->headers as $name => $value) {
            foreach (self::HEADERS as $like => $what) {
                if (ctype_digit(trim($value)) && preg_match($like, $name) === 1 && str_contains($name, '-')) {
                    $found[$what] ??= $name;
                }
            }
        }

        return $found;
    }
}
