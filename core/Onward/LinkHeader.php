<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * The address of the next page, in a `Link` header (RFC 8288).
 */
final class LinkHeader implements PagingStyle
{
    use FollowsLinks;

    public static function kind(): Kind
    {
        return new Kind('link-header', 'Link header', 'A `Link` header holds the address of the next page (RFC 8288).', [
            new Field('rel', FieldType::Parameter, 'relation', 'The relation of the link.', default: 'next', example: 'next'),
            ...PagingSettings::size(),
            ...PagingSettings::ends(),
            PagingSettings::total(true),
            PagingSettings::anyOrigin(),
        ]);
    }

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
