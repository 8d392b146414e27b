<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

use DeepSpring\Value\Phrase;

/**
 * A total greater than what came, or parameters that only a list in pages takes, where the answer
 * itself does not say how to go on.
 */
final class RemainderSign implements Sign
{
    public function propose(FirstAnswer $answer): array
    {
        $count = count($answer->records);
        if ($count === 0) {
            return [];
        }
        $total = $answer->figure(ParameterNames::TOTAL, $count + 1);
        $totalAt = $answer->total()['total'] ?? null;
        $last = $answer->member(ParameterNames::LAST, static fn (AnswerMember $member): bool => $member->value === false);
        $page = $answer->parameter(ParameterNames::PAGE_SENT);
        $offset = $answer->parameter(ParameterNames::OFFSET_SENT);
        $cursor = $answer->parameter(ParameterNames::CURSOR_SENT);
        $size = $answer->parameter(ParameterNames::SIZE);
        $isFull = $size !== null && ($answer->sent[$size] ?? '') === (string) $count;
        if ($totalAt === null && $last === null && ! $isFull && ($page ?? $offset ?? null) === null) {
            return [];
        }
        $because = match (true) {
            $total !== null => "{$total->path} is {$total->number()}, and ".Phrase::count($count, 'record').' came',
            $totalAt !== null => "$totalAt says {$answer->headers[$totalAt]}, and ".Phrase::count($count, 'record').' came',
            $last !== null => "{$last->path} is false",
            $isFull => "$size asked for ".Phrase::count($count, 'record').", and exactly $count came",
            default => 'the endpoint takes '.($page ?? $offset),
        };
        $end = $totalAt === null ? [] : ['total' => $totalAt];
        if ($offset !== null && $page === null) {
            return [new PagingProposal(['style' => 'offset', 'send_as' => $offset] + $answer->size() + $end, ucfirst($because).($totalAt === null && $last === null && ! $isFull ? '.' : ", and the endpoint takes $offset."), "With $offset the next page begins after the last record of this one.", $totalAt === null ? 54 : 78)];
        }
        if ($page !== null) {
            return [new PagingProposal(['style' => 'page', 'send_as' => $page] + $answer->size() + $end, ucfirst($because).($totalAt === null && $last === null && ! $isFull ? '.' : ", and the endpoint takes $page."), "With $page the second page differs from the first.", $totalAt === null ? 54 : 78)];
        }
        if ($totalAt === null && $last === null || $cursor !== null) {
            return [];
        }

        return [new PagingProposal(['style' => 'page', 'send_as' => 'page'] + $answer->size() + $end, ucfirst($because).'; nothing says under which name a page is asked for, and "page" is the most usual.', 'With page the second page differs from the first.', 40)];
    }
}
