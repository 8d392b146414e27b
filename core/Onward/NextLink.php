<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Ask\PageRequest;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * The address of the next page, in each answer.
 */
final class NextLink implements PagingStyle
{
    use FollowsLinks;

    public static function kind(): Kind
    {
        return new Kind('next-link', 'Next link in the response', 'The response holds the address of the next page.', [
            new Field('link', FieldType::Path, 'link at', 'Where the address of the next page stands; a relative one is resolved.', true, start: '$.next', example: '$.next'),
            ...PagingSettings::size(),
            ...PagingSettings::ends(),
            PagingSettings::total(true),
            PagingSettings::anyOrigin(),
        ]);
    }

    public function next(Page $page): PageRequest|End
    {
        $link = $this->onward->link?->values($page->document)[0] ?? null;
        if ($link === null || $link === '' || $link === false) {
            return new End(EndReason::NoNext, "{$this->onward->link} holds no link on page {$page->number}.");
        }
        if (! is_string($link)) {
            throw OnwardFailure::notALink($page->number, (string) $this->onward->link);
        }

        return $this->follow($page, $link, (string) $this->onward->link);
    }
}
