<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use GuzzleHttp\Psr7\Uri;
use GuzzleHttp\Psr7\UriComparator;
use GuzzleHttp\Psr7\UriResolver;

/**
 * Follows the address of a next page: relative ones are resolved (RFC 3986 §5), another origin and
 * an address that was read before are refused.
 */
trait FollowsLinks
{
    use PlainPager;

    /** @var array<string, true> hashes */
    private array $seen = [];

    public function __construct(private readonly OnwardDefinition $onward)
    {
    }

    public function first(): PageRequest
    {
        return new PageRequest($this->onward->sizeQuery());
    }

    private function follow(Page $page, string $link, string $found): PageRequest
    {
        $here = new Uri($page->uri);
        $this->seen[hash('xxh128', (string) $here)] = true;
        try {
            $next = UriResolver::resolve($here, new Uri($link));
        } catch (\InvalidArgumentException) {
            throw OnwardFailure::notALink($page->number, $found);
        }
        if (! $this->onward->anyOrigin && UriComparator::isCrossOrigin($here, $next)) {
            throw OnwardFailure::otherOrigin($page->number, (string) $next->withQuery('')->withUserInfo(''), (string) Uri::composeComponents($here->getScheme(), $here->getAuthority(), '', '', ''));
        }
        $next = $next->withFragment('');
        if (isset($this->seen[hash('xxh128', (string) $next)])) {
            throw OnwardFailure::repeatedLink($page->number, (string) $next);
        }

        return new PageRequest(uri: (string) $next);
    }
}
