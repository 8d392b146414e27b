<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * JSON text (RFC 8259) → a document: objects as `stdClass`, whole numbers beyond 64 bits as the
 * text of their digits. A byte order mark and a guard against being run as a script are left out.
 */
final class JsonDecoder
{
    public const DEPTH = 512;

    private const TOKEN = '/\G[ \t\n\r]*+(?:(?<open>[{\[])|(?<close>[}\]])|(?<mark>[:,])|(?<value>"(?:[^"\\\\\x00-\x1f]++|\\\\(?:["\\\\\/bfnrt]|u[0-9A-Fa-f]{4}))*+"|-?(?:0|[1-9]\d*+)(?:\.\d++)?(?:[eE][+-]?\d++)?|true|false|null))/';

    /**
     * @throws UnreadableAnswer
     */
    public static function decode(string $body): mixed
    {
        if (str_starts_with($body, "\xEF\xBB\xBF")) {
            $body = substr($body, 3);
        }
        if (preg_match('/^\s*(?:\)\]\}\',?|for\s*\(;;\);|while\s*\(1\);)\s*/', substr($body, 0, 40), $guard) === 1) {
            $body = substr($body, strlen($guard[0]));
        }
        $document = json_decode($body, false, self::DEPTH, JSON_BIGINT_AS_STRING);
        if ($document !== null || json_last_error() === JSON_ERROR_NONE) {
            return $document;
        }

        throw self::fault($body, json_last_error());
    }

    private static function fault(string $body, int $error): UnreadableAnswer
    {
        $start = ltrim(substr($body, 0, 2000));
        if ($start === '') {
            return UnreadableAnswer::empty();
        }
        if (preg_match('/^(<!doctype html|<html|<head|<body)/i', $start) === 1) {
            preg_match('/<title[^>]*>([^<]{1,200})/i', substr($body, 0, 20000), $title);

            return UnreadableAnswer::html(trim(html_entity_decode($title[1] ?? '', ENT_QUOTES | ENT_HTML5, 'UTF-8')));
        }

        return match ($error) {
            JSON_ERROR_DEPTH => UnreadableAnswer::beyondReading('it is nested more than '.self::DEPTH.' levels deep'),
            JSON_ERROR_INVALID_PROPERTY_NAME => UnreadableAnswer::beyondReading('an object has a member whose name starts with a NUL character'),
            JSON_ERROR_UTF8 => UnreadableAnswer::notJson('it is not UTF-8', self::firstInvalidByte($body), ''),
            JSON_ERROR_UTF16 => UnreadableAnswer::beyondReading('a string holds half of a surrogate pair'),
            default => self::syntax($body),
        };
    }

    private static function firstInvalidByte(string $body): int
    {
        $valid = mb_scrub($body, 'UTF-8');
        $length = strspn($body ^ $valid, "\0");

        return min($length, strlen($body));
    }

    /**
     * Where the text stops being JSON, and what stands there.
     */
    private static function syntax(string $body): UnreadableAnswer
    {
        $at = 0;
        $open = [];
        $expect = 'value';
        while (preg_match(self::TOKEN, $body, $token, PREG_UNMATCHED_AS_NULL, $at) === 1) {
            $next = self::after($expect, $open, $token);
            if ($next === null) {
                break;
            }
            $expect = $next;
            $at += strlen((string) $token[0]);
        }
        $at += strspn($body, " \t\n\r", $at);
        if ($at >= strlen($body)) {
            return UnreadableAnswer::notJson('it ends too early', $at, '');
        }
        $around = mb_strimwidth(mb_scrub(substr($body, $at, 60), 'UTF-8'), 0, 40, '…', 'UTF-8');

        return UnreadableAnswer::notJson($expect === 'end' ? 'something follows the end' : 'it breaks off', $at, $around);
    }

    /**
     * What may follow a token, or null when the token may not stand here.
     *
     * @param  list<string>  $open
     * @param  array<array-key, string|null>  $token
     */
    private static function after(string $expect, array &$open, array $token): ?string
    {
        $isName = isset($token['value']) && $token['value'][0] === '"';
        if (isset($token['open']) && in_array($expect, ['value', 'value or close'], true)) {
            $open[] = $token['open'];

            return $token['open'] === '{' ? 'name or close' : 'value or close';
        }
        if (isset($token['close']) && in_array($expect, ['name or close', 'value or close', 'comma or close'], true) && end($open) === ($token['close'] === '}' ? '{' : '[')) {
            array_pop($open);

            return $open === [] ? 'end' : 'comma or close';
        }

        return match (true) {
            $expect === 'comma or close' && ($token['mark'] ?? '') === ',' => end($open) === '{' ? 'name' : 'value',
            $expect === 'colon' && ($token['mark'] ?? '') === ':' => 'value',
            $isName && in_array($expect, ['name', 'name or close'], true) => 'colon',
            isset($token['value']) && in_array($expect, ['value', 'value or close'], true) => $open === [] ? 'end' : 'comma or close',
            default => null,
        };
    }
}
