<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

/**
 * Cuts a path into tokens (RFC 9535, appendix A).
 */
final class JsonPathLexer
{
    private const SYMBOLS = '/\G(?:\.\.|&&|\|\||==|!=|<=|>=|[$@.\[\]()*:,?!<>])/';

    private const NAME = '/\G[A-Za-z_\x{80}-\x{10FFFF}][A-Za-z0-9_\x{80}-\x{10FFFF}]*/u';

    private const NUMBER = '/\G-?(?:0|[1-9][0-9]*)(\.[0-9]+)?([eE][+-]?[0-9]+)?/';

    private int $at = 0;

    public function __construct(private readonly string $path)
    {
    }

    /**
     * @return list<JsonPathToken>
     *
     * @throws InvalidJsonPath
     */
    public function tokens(): array
    {
        if (preg_match('//u', $this->path) !== 1) {
            throw InvalidJsonPath::at('', 0, 'The path is not valid UTF-8');
        }
        if ($this->path !== trim($this->path, " \t\n\r")) {
            throw InvalidJsonPath::at($this->path, $this->path[0] === '$' ? strlen(rtrim($this->path, " \t\n\r")) : 0, 'Blank space may not stand before or after a path');
        }

        $tokens = [];
        do {
            $tokens[] = $token = $this->next();
        } while ($token->kind !== JsonPathTokenKind::End);

        return $tokens;
    }

    private function next(): JsonPathToken
    {
        $blank = strspn($this->path, " \t\n\r", $this->at);
        $this->at += $blank;
        $spaced = $blank > 0;
        $start = $this->at;

        if ($start >= strlen($this->path)) {
            return new JsonPathToken(JsonPathTokenKind::End, '', $start, $spaced);
        }
        $char = $this->path[$start];
        if ($char === '"' || $char === "'") {
            return new JsonPathToken(JsonPathTokenKind::Text, $this->string($char), $start, $spaced);
        }
        if (preg_match(self::NUMBER, $this->path, $found, 0, $start) === 1) {
            $this->at += strlen($found[0]);
            $integer = ! isset($found[1]) && $found[0] !== '-0';

            return new JsonPathToken($integer ? JsonPathTokenKind::Integer : JsonPathTokenKind::Number, $found[0], $start, $spaced);
        }
        if (preg_match(self::SYMBOLS, $this->path, $found, 0, $start) === 1) {
            $this->at += strlen($found[0]);

            return new JsonPathToken(JsonPathTokenKind::from($found[0]), $found[0], $start, $spaced);
        }
        if (preg_match(self::NAME, $this->path, $found, 0, $start) === 1) {
            $this->at += strlen($found[0]);

            return new JsonPathToken(JsonPathTokenKind::Name, $found[0], $start, $spaced);
        }

        throw InvalidJsonPath::at($this->path, $start, 'A path may not have '.mb_substr(substr($this->path, $start), 0, 1, 'UTF-8').' here');
    }

    private function string(string $quote): string
    {
        $start = $this->at++;
        $text = '';
        while (true) {
            $plain = strcspn($this->path, $quote.'\\'."\x00\x01\x02\x03\x04\x05\x06\x07\x08\x09\x0a\x0b\x0c\x0d\x0e\x0f\x10\x11\x12\x13\x14\x15\x16\x17\x18\x19\x1a\x1b\x1c\x1d\x1e\x1f", $this->at);
            $text .= substr($this->path, $this->at, $plain);
            $this->at += $plain;
            $char = $this->path[$this->at] ?? null;
            if ($char === null) {
                throw InvalidJsonPath::at($this->path, $start, 'This string has no closing '.$quote);
            }
            if ($char === $quote) {
                $this->at++;

                return $text;
            }
            if ($char !== '\\') {
                throw InvalidJsonPath::at($this->path, $this->at, 'A control character in a string must be written as an escape');
            }
            $text .= $this->escape($quote);
        }
    }

    private function escape(string $quote): string
    {
        $start = $this->at;
        $char = $this->path[$start + 1] ?? '';
        $this->at += 2;

        return match (true) {
            $char === 'b' => "\x08",
            $char === 'f' => "\x0c",
            $char === 'n' => "\n",
            $char === 'r' => "\r",
            $char === 't' => "\t",
            $char === '/', $char === '\\', $char === $quote => $char,
            $char === 'u' => $this->unicode($start),
            default => throw InvalidJsonPath::at($this->path, $start, 'This escape is not known; write the character itself, or \\u and four hexadecimal digits'),
        };
    }

    private function unicode(int $start): string
    {
        $code = $this->hex($start);
        if ($code >= 0xDC00 && $code <= 0xDFFF) {
            throw InvalidJsonPath::at($this->path, $start, 'A low surrogate must follow a high one');
        }
        if ($code >= 0xD800 && $code <= 0xDBFF) {
            $low = substr($this->path, $this->at, 2) === '\\u' ? (function (): int {
                $this->at += 2;

                return $this->hex($this->at - 2);
            })() : 0;
            if ($low < 0xDC00 || $low > 0xDFFF) {
                throw InvalidJsonPath::at($this->path, $start, 'A high surrogate must be followed by a low one');
            }
            $code = 0x10000 + (($code - 0xD800) << 10) + ($low - 0xDC00);
        }

        return (string) mb_chr($code, 'UTF-8');
    }

    private function hex(int $start): int
    {
        $digits = substr($this->path, $this->at, 4);
        if (preg_match('/^[0-9A-Fa-f]{4}$/D', $digits) !== 1) {
            throw InvalidJsonPath::at($this->path, $start, '\\u wants four hexadecimal digits');
        }
        $this->at += 4;

        return (int) hexdec($digits);
    }
}
