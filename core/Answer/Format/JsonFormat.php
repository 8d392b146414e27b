<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\UnreadableAnswer;

/**
 * JSON (RFC 8259).
 */
final readonly class JsonFormat implements Format
{
    public function recognises(string $type, string $start): bool
    {
        return $type === 'application/json' || str_ends_with($type, '+json') || $start !== '' && str_contains('{["', $start[0]);
    }

    public function read(string $body, string $charset): Read
    {
        $body = Charset::withoutMark($body, $charset);
        try {
            return new Read(JsonDecoder::decode($body), 'json', json: $body);
        } catch (UnreadableAnswer $unreadable) {
            // Many say application/json of one JSON text a line.
            if (preg_match('/^\s*(?:\{.*\}|\[.*\])[ \t]*\r?\n\s*[\[{]/', $body) === 1) {
                $lines = (new NdJsonFormat)->read($body, $charset);
                if (count($lines->bad) < 2) {
                    return $lines;
                }
            }

            throw $unreadable;
        }
    }
}
