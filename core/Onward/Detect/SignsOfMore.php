<?php

declare(strict_types=1);

namespace DeepSpring\Onward\Detect;

use DeepSpring\Onward\Page;
use DeepSpring\Value\Phrase;

/**
 * What in an answer, or in the address that was asked, speaks against its being all there is.
 */
final class SignsOfMore
{
    /** Weight from which a proposal rests on something that is there, not on an empty place for it. */
    private const SURE = 61;

    /**
     * @return list<string> parts of a sentence; none where nothing speaks against it
     */
    public static function in(Page $page): array
    {
        if ($page->records === 0) {
            return [];
        }

        return self::of(new FirstAnswer('GET', $page->uri, $page->status, $page->headers, $page->document), $page->records);
    }

    /**
     * @param  int  $records  that came
     * @return list<string>
     */
    public static function of(FirstAnswer $answer, int $records): array
    {
        $signs = [];
        $total = $answer->total()['total'] ?? null;
        if ($total !== null) {
            $figure = $answer->figure(ParameterNames::TOTAL, count($answer->records) + 1);
            $signs[] = "$total says ".($figure?->number() ?? $answer->headers[$total]).', and '.Phrase::count(count($answer->records), 'record').' came';
        }
        foreach ([new LinkHeaderSign, new NextLinkSign, new CursorSign] as $sign) {
            foreach ($sign->propose($answer) as $proposal) {
                if ($proposal->weight >= self::SURE) {
                    $signs[] = lcfirst(rtrim($proposal->reason, '.'));
                }
            }
        }
        $size = $answer->parameter(ParameterNames::SIZE);
        if ($size !== null && ($answer->sent[$size] ?? '') === (string) $records) {
            $signs[] = "$size asked for $records, and exactly as many came";
        }
        foreach ([ParameterNames::PAGE_SENT, ParameterNames::OFFSET_SENT] as $names) {
            $parameter = $answer->parameter($names);
            if ($parameter !== null) {
                $signs[] = "the address has $parameter in it";
            }
        }

        return array_values(array_unique($signs));
    }
}
