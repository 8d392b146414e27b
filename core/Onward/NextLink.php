<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use GuzzleHttp\Psr7\Uri;
use GuzzleHttp\Psr7\UriComparator;
use GuzzleHttp\Psr7\UriResolver;

/**
 * The address of the next page, in each answer. Relative ones are resolved (RFC 3986 §5).
 */
final class NextLink implements Pager
{
    /** @var array<string, true> */
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
        $here = new Uri($page->uri);
        $this->seen[(string) $here] = true;
        $link = $this->onward->link?->values($page->document)[0] ?? null;
        if ($link === null || $link === '' || $link === false) {
            return new End(EndReason::NoNext, "{$this->onward->link} holds no link on page {$page->number}.");
        }
        if (! is_string($link)) {
            throw OnwardFailure::notALink($page->number, (string) $this->onward->link);
        }
        try {
            $next = UriResolver::resolve($here, new Uri($link));
        } catch (\InvalidArgumentException) {
            throw OnwardFailure::notALink($page->number, (string) $this->onward->link);
        }
        if (! $this->onward->anyOrigin && UriComparator::isCrossOrigin($here, $next)) {
            throw OnwardFailure::otherOrigin($page->number, (string) $next->withQuery('')->withUserInfo(''), (string) Uri::composeComponents($here->getScheme(), $here->getAuthority(), '', '', ''));
        }
        if (isset($this->seen[(string) $next])) {
            throw OnwardFailure::repeatedLink($page->number, (string) $next);
        }

        return new PageRequest(uri: (string) $next);
    }
}
