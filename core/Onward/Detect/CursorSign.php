<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

/**
 * A token for the next page, in the answer or in a flag that asks for the last record.
 */
final class CursorSign implements Sign
{
    public function propose(FirstAnswer $answer): array
    {
        $more = $answer->member(ParameterNames::MORE, static fn (AnswerMember $member): bool => is_bool($member->value));
        $flag = $more === null ? [] : ['more' => $more->path];
        foreach ($answer->members as $member) {
            if (preg_match(ParameterNames::CURSOR, $member->plain) !== 1 || ! $member->isToken() || $this->isCount($member, $answer, $more !== null)) {
                continue;
            }
            $sendAs = $answer->parameter(ParameterNames::CURSOR_SENT) ?? ParameterNames::parameterOf($member->name, $member->parent);
            $explicit = preg_match('/^(?:next|continu|endcursor|scroll|marker|bookmark|resum|after|page?token|pagingtoken|cursor)/', $member->plain) === 1 || str_contains($member->parent, 'cursor') || str_contains($member->parent, 'next');
            if (! $explicit && $more === null && $answer->parameter(ParameterNames::CURSOR_SENT) === null) {
                continue;
            }
            $in = in_array($answer->method, ['POST', 'PUT', 'PATCH'], true) ? ['in' => 'body'] : [];

            return [new PagingProposal(['style' => 'cursor', 'send_as' => $sendAs, 'next' => $member->path] + $in + $flag + $answer->size() + $answer->total(), "{$member->path} holds a token".($more === null ? '' : " and {$more->path} is ".var_export($more->value, true)).'.', "With {$sendAs} the next page holds other records, and the last one has no token.", $more?->value === false ? 60 : 92)];
        }
        $empty = $answer->member('/^(?:nextcursor|nexttoken|nextpagetoken|nextmarker|continuationtoken|nextpagecursor|endcursor|resumptiontoken)$/', static fn (AnswerMember $member): bool => $member->value === null || $member->value === '');
        if ($empty !== null) {
            return [new PagingProposal(['style' => 'cursor', 'send_as' => $answer->parameter(ParameterNames::CURSOR_SENT) ?? ParameterNames::parameterOf($empty->name, $empty->parent), 'next' => $empty->path] + $flag + $answer->size(), "{$empty->path} is the place of a token, and empty: this page seems to be the last.", 'A request with a smaller page has a token there.', 56)];
        }

        return $more?->value === true ? $this->fromLast($answer, $more) : [];
    }

    /**
     * @return list<PagingProposal>
     */
    private function fromLast(FirstAnswer $answer, AnswerMember $more): array
    {
        $last = $answer->records[count($answer->records) - 1] ?? null;
        foreach (['id', 'uuid', 'key', 'uid', 'number'] as $name) {
            if ($last instanceof \stdClass && (is_string($last->{$name} ?? null) || is_int($last->{$name} ?? null))) {
                $sendAs = $answer->parameter(ParameterNames::FROM_LAST_SENT);

                return [new PagingProposal(['style' => 'cursor', 'send_as' => $sendAs ?? 'starting_after', 'from_last' => "$.$name", 'more' => $more->path] + $answer->size() + $answer->total(), "{$more->path} is true, and the answer holds no token: the $name of the last record".($sendAs === null ? ' may be' : " is probably what $sendAs takes and is").' the cursor.', 'The next page begins after the last record of this one.', $sendAs === null ? 50 : 84)];
            }
        }

        return [];
    }

    /**
     * A small number that counts pages or records is no token. One that is written as a text, that stands
     * beside a flag that there is more, or that goes where a cursor was sent, is one as far as its name
     * does not say otherwise.
     */
    private function isCount(AnswerMember $member, FirstAnswer $answer, bool $hasMore): bool
    {
        $number = $member->number();
        if ($number === null) {
            return false;
        }
        $isHandedOn = is_string($member->value) || $hasMore || $answer->parameter(ParameterNames::CURSOR_SENT) !== null;
        if ($isHandedOn && $answer->parameter(ParameterNames::OFFSET_SENT) === null && $answer->parameter(ParameterNames::PAGE_SENT) === null && $answer->figure(ParameterNames::PAGE) === null && $answer->figure(ParameterNames::OFFSET) === null && in_array($member->plain, ['next', 'position'], true)) {
            return false;
        }
        $page = $answer->figure(ParameterNames::PAGE);
        $offset = $answer->figure(ParameterNames::OFFSET);

        return $page !== null && $number === $page->number() + 1
            || $offset !== null && $offset !== $member && $number === $offset->number() + count($answer->records)
            || in_array($member->plain, ['nextpage'], true) && $number < 100_000
            || in_array($member->plain, ['next', 'nextoffset', 'position'], true) && ($number === count($answer->records) || $number === 2 && $answer->parameter(ParameterNames::PAGE_SENT) !== null);
    }
}
