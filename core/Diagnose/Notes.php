<?php

declare(strict_types=1);

namespace DeepSpring\Diagnose;

use DeepSpring\Value\Phrase;

/**
 * What is worth saying of an answer that is no failure.
 */
final class Notes
{
    /**
     * @return list<Diagnosis>
     */
    public static function of(Situation $situation): array
    {
        if (! $situation->isSuccess() || $situation->unreadable !== null) {
            return [];
        }
        $notes = [];
        if (str_starts_with($situation->body, "\xEF\xBB\xBF")) {
            $notes[] = new Diagnosis('bom', 'The answer begins with a byte order mark.', 'JSON has none (RFC 8259 §8.1); it was left out.', 'answer', Sureness::Certain, ['EF BB BF']);
        }
        if (preg_match('/^\s*(\)\]\}\',?|for\s*\(;;\);|while\s*\(1\);)/', substr($situation->body, 0, 40), $part) === 1) {
            $notes[] = new Diagnosis('guard-prefix', "The answer begins with $part[1], a guard against being run as a script.", 'It was left out.', 'answer', Sureness::Certain, [$part[1]]);
        }
        if ($situation->records === 0) {
            $filters = [];
            foreach ($situation->ask['inputs'] ?? [] as $input) {
                if (($input['in'] ?? '') === 'query' && preg_match('/(?:^|[?&])'.preg_quote(rawurlencode((string) $input['name']), '/').'=/', (string) parse_url($situation->uri, PHP_URL_QUERY)) === 1) {
                    $filters[] = (string) $input['name'];
                }
            }
            if ($filters !== []) {
                $notes[] = new Diagnosis('200-filtered', 'The service answered with no record at all.', 'The request is in order, so '.implode(' and ', $filters).(count($filters) === 1 ? ' probably matches' : ' together probably match').' nothing. Try without, or with a value that exists.', 'ask', Sureness::Likely, $filters);
            }
        }

        return [...$notes, ...self::pageSize($situation)];
    }

    /**
     * A size of pages that was asked for and was not what came. It is a preference, which a service may pass
     * over (RFC 7240 §2; OData 4.01 part 1, preference maxpagesize).
     *
     * @return list<Diagnosis>
     */
    private static function pageSize(Situation $situation): array
    {
        $prefer = $situation->ask['headers']['prefer'] ?? null;
        if (! is_string($prefer) || preg_match('/(?:odata\.)?maxpagesize=(\d+)/', $prefer, $part) !== 1 || $situation->records === null || $situation->records === (int) $part[1]) {
            return [];
        }
        $came = Phrase::count($situation->records, 'record');
        if ($situation->records > (int) $part[1]) {
            return [new Diagnosis('maxpagesize-ignored', "Pages of $part[1] were asked for, and $came came in one.", 'The service did not follow the preference, which it may do. Its pages are read as they come, whatever their size.', 'onward', Sureness::Certain, ["Prefer: $part[0]", $came])];
        }
        $hasMore = preg_match('/"(?:@odata\.nextLink|@nextLink|__next)"\s*:\s*"/', $situation->body) === 1;

        return $hasMore ? [new Diagnosis('maxpagesize-smaller', "Pages of $part[1] were asked for, and $came came, with a link to the next page.", 'The service hands out smaller pages than that. None of them is left out; each takes a request of its own.', 'onward', Sureness::Certain, ["Prefer: $part[0]", $came])] : [];
    }
}
