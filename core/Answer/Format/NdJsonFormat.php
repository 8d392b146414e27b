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
        $how = $isSequence ? 'a sequence of JSON texts (RFC 7464)' : 'one JSON text a line';
        $records = self::together($texts);
        if ($records !== null) {
            return new Read($records, 'ndjson', $how, [], '['.implode(',', $texts).']', true);
        }
        $records = $good = $bad = [];
        $commas = 0;
        foreach ($texts as $number => $text) {
            try {
                [$found, $json] = self::line($text);
                array_push($records, ...$found);
                $good[] = $json;
                $commas += $json === trim($text) && count($found) === 1 ? 0 : 1;
            } catch (UnreadableAnswer $unreadable) {
                $bad[] = BadRecord::of(($isSequence ? 'text ' : 'line ').($number + 1), $text, lcfirst(str_replace('The answer', 'It', $unreadable->getMessage())));
            }
        }
        if ($good === [] && $bad !== []) {
            throw UnreadableAnswer::beyondReading('no line of it is JSON; the first one: '.rtrim($bad[0]->reason, '.'));
        }

        $how .= $commas > 0 ? ', with commas between records' : '';

        return new Read($records, 'ndjson', $how, $bad, '['.implode(',', $good).']', true);
    }

    /**
     * All texts decoded at once, which is quicker; null where that cannot be told from lines that are
     * halves of something.
     *
     * @param  list<string>  $texts
     * @return list<mixed>|null
     */
    private static function together(array $texts): ?array
    {
        $mark = 'end of '.hash('xxh128', implode("\n", $texts));
        $all = json_decode('['.implode(",\"$mark\",", $texts).']', false, JsonDecoder::DEPTH + 1, JSON_BIGINT_AS_STRING);
        if (! is_array($all) || count($all) !== max(0, 2 * count($texts) - 1)) {
            return null;
        }
        $records = [];
        foreach ($all as $place => $value) {
            if ($place % 2 === 0) {
                $records[] = $value;
            } elseif ($value !== $mark) {
                return null;
            }
        }

        return $records;
    }

    /**
     * One line; where it is no JSON text by itself, the texts with commas between them.
     *
     * @return array{list<mixed>, string} records, and their JSON with commas between
     *
     * @throws UnreadableAnswer
     */
    private static function line(string $text): array
    {
        $text = trim($text);
        try {
            return [[JsonDecoder::decode($text)], $text];
        } catch (UnreadableAnswer $unreadable) {
            $several = rtrim($text, ", \t\r");
            $found = $several === '' ? null : json_decode("[$several]", false, JsonDecoder::DEPTH + 1, JSON_BIGINT_AS_STRING);

            return is_array($found) && $found !== [] ? [array_values($found), $several] : throw $unreadable;
        }
    }
}
