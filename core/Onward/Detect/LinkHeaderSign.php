<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

use DeepSpring\Onward\WebLink;

/**
 * A `Link` header with `rel="next"`, or with relations that only a list in pages has.
 */
final class LinkHeaderSign implements Sign
{
    public function propose(FirstAnswer $answer): array
    {
        $rels = [];
        foreach (WebLink::all($answer->headers['link'] ?? '') as $link) {
            if ($link->isAbout($answer->uri)) {
                array_push($rels, ...$link->rels);
            }
        }
        if (in_array('next', $rels, true)) {
            return [new PagingProposal(['style' => 'link-header'] + $answer->size() + $answer->total(), 'The Link header has a link with rel="next".', 'The next page holds other records, and the last one has no such link.', 97)];
        }
        if (array_intersect(['first', 'last', 'prev'], $rels) !== []) {
            return [new PagingProposal(['style' => 'link-header'] + $answer->size() + $answer->total(), 'The Link header has '.implode(' and ', array_map(static fn (string $rel): string => "rel=\"$rel\"", array_values(array_intersect(['first', 'last', 'prev'], $rels)))).', and no next: this page seems to be the last.', 'A request with a smaller page has a rel="next".', 60)];
        }

        return [];
    }
}
