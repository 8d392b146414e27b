<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

/**
 * How many records came before this page, in the answer.
 */
final class OffsetSign implements Sign
{
    public function propose(FirstAnswer $answer): array
    {
        $count = count($answer->records);
        $total = $answer->figure(ParameterNames::TOTAL, 1);
        $total = $total !== null && $total->number() >= $count ? $total : null;
        $totalAt = $total !== null ? ['total' => $total->path] : [];
        $parameter = $answer->parameter(ParameterNames::OFFSET_SENT);
        $offset = $answer->figure(ParameterNames::OFFSET);
        $offset = $offset !== null && ($offset->number() <= 1 || ($answer->sent[$offset->name] ?? '') === (string) $offset->number()) ? $offset : null;
        // What is called "next" alone may as well be a cursor, which is handed on as it is.
        $isPlain = static fn (AnswerMember $member): bool => is_int($member->value) && $answer->member(ParameterNames::MORE, static fn (AnswerMember $one): bool => is_bool($one->value)) === null && $answer->parameter(ParameterNames::CURSOR_SENT) === null;
        $next = $answer->member(ParameterNames::NEXT_OFFSET, static fn (AnswerMember $member): bool => $count > 0 && $member->number() === $count && ($member->plain !== 'next' || $parameter !== null || $isPlain($member)));
        if ($next !== null && $offset === null) {
            $sendAs = $parameter ?? ($next->plain === 'nextstart' ? 'start' : ($next->plain === 'nextskip' ? 'skip' : 'offset'));

            return [new PagingProposal(['style' => 'offset', 'send_as' => $sendAs] + $answer->size() + $totalAt, "{$next->path} is {$next->number()}, as many as there are records here.", "With $sendAs the next page begins after the last record of this one.", 86)];
        }
        if ($offset === null || $answer->size() === [] && $total === null) {
            return [];
        }
        $sendAs = $parameter ?? $offset->name;

        return [new PagingProposal(['style' => 'offset', 'send_as' => $sendAs] + ($offset->number() === 1 ? ['first' => 1] : []) + $answer->size() + $totalAt, "{$offset->path} is {$offset->number()}".($total === null ? '' : " and {$total->path} is {$total->number()}").'.', "With $sendAs the next page begins after the last record of this one".($totalAt === [] ? '.' : ', and at the end as many records have come as the total says.'), 88)];
    }
}
