<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\JsonDecoder;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Value\Kind\Kind;

/**
 * JSON (RFC 8259).
 */
final readonly class JsonFormat implements Format
{
    public static function kind(): Kind
    {
        return new Kind('json', 'JSON', 'One JSON text (RFC 8259).');
    }

    public static function of(array $settings): self
    {
        return new self;
    }

    public function recognises(string $type, string $start): Recognition
    {
        return match (true) {
            $type === 'application/json' || str_ends_with($type, '+json') => Recognition::Named,
            $start !== '' && str_contains('{["', $start[0]) => Recognition::Likely,
            default => Recognition::No,
        };
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
