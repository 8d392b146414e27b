<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Value\Kind\Kind;

/**
 * One JSON text a line (NDJSON, JSON Lines), or each after a record separator (RFC 7464). A text
 * that is broken costs only its own record.
 */
final readonly class NdJsonFormat implements Format
{
    private const TYPES = [
        'application/x-ndjson', 'application/ndjson', 'application/jsonl', 'application/x-jsonlines', 'application/json-lines', 'application/json-seq', 'application/stream+json',
    ];

    public static function kind(): Kind
    {
        return new Kind('ndjson', 'JSON Lines', 'One JSON text a line (NDJSON), or a sequence of JSON texts (RFC 7464). A broken one costs only its own record.');
    }

    public static function of(array $settings): self
    {
        return new self;
    }

    public function recognises(string $type, string $start): Recognition
    {
        return str_starts_with($start, "\x1e") ? Recognition::Sure : (in_array($type, self::TYPES, true) ? Recognition::Named : Recognition::No);
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
            return new Read($records, 'ndjson', $how, [], $json, true);
        }
        $records = $good = $bad = [];
        foreach ($texts as $number => $text) {
            try {
                $records[] = JsonDecoder::decode($text);
                $good[] = trim($text);
            } catch (UnreadableAnswer $unreadable) {
                $bad[] = BadRecord::of(($isSequence ? 'text ' : 'line ').($number + 1), $text, lcfirst(str_replace('The answer', 'It', $unreadable->getMessage())));
            }
        }
        if ($good === [] && $bad !== []) {
            throw UnreadableAnswer::beyondReading('no line of it is JSON; the first one: '.rtrim($bad[0]->reason, '.'));
        }

        return new Read($records, 'ndjson', $how, $bad, '['.implode(',', $good).']', true);
    }
}
