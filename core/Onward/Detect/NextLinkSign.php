<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

/**
 * A member that holds the address of the next page.
 */
final class NextLinkSign implements Sign
{
    public function propose(FirstAnswer $answer): array
    {
        $named = static fn (AnswerMember $member): bool => in_array($member->plain, ['href', 'url', 'uri'], true) ? str_contains($member->parent, 'next') : preg_match(ParameterNames::LINK, $member->plain) === 1;
        foreach ($answer->members as $member) {
            if ($named($member) && $member->isLink()) {
                return [new PagingProposal(['style' => 'next-link', 'link' => $member->path] + $this->size($answer) + $answer->total(), "{$member->path} holds an address.", 'The next page holds other records, and the last one has no address there.', 94)];
            }
        }
        // On the only page there is, the place is empty; that it stands beside its opposite tells what it is.
        $before = $answer->member(ParameterNames::PREVIOUS, static fn (AnswerMember $member): bool => $member->value === null || $member->value === '' || $member->isLink());
        foreach ($answer->members as $member) {
            if ($before !== null && $named($member) && $member->parent === $before->parent && ($member->value === null || $member->value === '')) {
                return [new PagingProposal(['style' => 'next-link', 'link' => $member->path] + $this->size($answer) + $answer->total(), "{$member->path} stands beside {$before->path}, and is empty: this page seems to be the last.", 'A request with a smaller page has an address there.', 58)];
            }
        }

        return [];
    }

    /**
     * The link carries the size on; it is only sent with the first request.
     *
     * @return array{size_as?: string, size?: int}
     */
    private function size(FirstAnswer $answer): array
    {
        return $answer->parameter(ParameterNames::SIZE) === null ? [] : $answer->size();
    }
}
