<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\UnreadableAnswer;

/**
 * One JSON text a line (NDJSON, JSON Lines), or each after a record separator (RFC 7464). A text
 * that is broken costs only its own record.
 */
final readonly class NdJsonFormat implements Format
{
    public function recognises(string $type, string $start): bool
    {
        return in_array($type, ['application/x-ndjson', 'application/ndjson', 'application/jsonl', 'application/x-jsonlines', 'application/json-lines', 'application/json-seq', 'application/stream+json'], true) || str_starts_with($start, "\x1e");
    }

    public function read(string $body, string $charset): Read
    {
        $body = Charset::withoutMark($body, $charset);
        $isSequence = str_starts_with(ltrim($body), "\x1e");
        $texts = array_values(array_filter(explode($isSequence ? "\x1e" : "\n", $body), static fn (string $text): bool => trim($text) !== ''));
        $json = '['.implode(',', $texts).']';
        $records = json_decode($json, false, JsonDecoder::DEPTH + 1, JSON_BIGINT_AS_STRING);
        $how = $isSequence ? 'a sequence of JSON texts (RFC 7464)' : 'one JSON text a line';
        if (is_array($records) && count($records) === count($texts)) {
            return new Read($records, 'ndjson', $how, [], $json);
        }
        $good = $bad = [];
        foreach ($texts as $number => $text) {
            try {
                JsonDecoder::decode($text);
                $good[] = trim($text);
            } catch (UnreadableAnswer $unreadable) {
                $bad[] = BadRecord::of(($isSequence ? 'text ' : 'line ').($number + 1), $text, lcfirst(str_replace('The answer', 'It', $unreadable->getMessage())));
            }
        }
        if ($good === [] && $bad !== []) {
            throw UnreadableAnswer::beyondReading('no line of it is JSON; the first one: '.rtrim($bad[0]->reason, '.'));
        }
        $json = '['.implode(',', $good).']';

        return new Read(JsonDecoder::decode($json), 'ndjson', $how, $bad, $json);
    }
}
