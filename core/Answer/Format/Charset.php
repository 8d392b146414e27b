<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

use DeepSpring\Answer\UnreadableAnswer;

/**
 * Bytes in some encoding → UTF-8.
 */
final class Charset
{
    public const KNOWN = ['utf-8' => 'UTF-8', 'utf-16' => 'UTF-16', 'utf-16le' => 'UTF-16LE', 'utf-16be' => 'UTF-16BE', 'iso-8859-1' => 'ISO-8859-1', 'windows-1252' => 'Windows-1252', 'iso-8859-15' => 'ISO-8859-15'];

    /**
     * What a byte order mark or a parameter of the media type says; UTF-8 without either.
     */
    public static function withoutMark(string $body, string $charset): string
    {
        return match (true) {
            str_starts_with($body, "\xEF\xBB\xBF") => substr($body, 3),
            str_starts_with($body, "\xFF\xFE") && ! str_starts_with($body, "\xFF\xFE\0\0") => mb_convert_encoding(substr($body, 2), 'UTF-8', 'UTF-16LE'),
            str_starts_with($body, "\xFE\xFF") => mb_convert_encoding(substr($body, 2), 'UTF-8', 'UTF-16BE'),
            // Without a mark: the zeros of the first sign, which is one of ASCII, say which half comes first.
            $charset === 'utf-16' => mb_convert_encoding($body, 'UTF-8', substr($body, 1, 1) === "\0" ? 'UTF-16LE' : 'UTF-16BE'),
            $charset === 'utf-16le', $charset === 'utf-16be' => mb_convert_encoding($body, 'UTF-8', self::KNOWN[$charset]),
            default => $body,
        };
    }

    /**
     * The encoding of a text of which nobody says it, and the text in UTF-8.
     *
     * @return array{string, string}
     *
     * @throws UnreadableAnswer
     */
    public static function detected(string $body, string $said): array
    {
        if (preg_match('/^(?:\xEF\xBB\xBF|\xFF\xFE|\xFE\xFF)/', $body, $mark) === 1 || str_starts_with($said, 'utf-16') && isset(self::KNOWN[$said])) {
            return [($mark[0] ?? '') === "\xEF\xBB\xBF" ? 'utf-8' : (isset($mark[0]) ? 'utf-16' : $said), self::withoutMark($body, $said)];
        }
        if (mb_check_encoding($body, 'UTF-8') && ($said === '' || $said === 'utf-8' || ! isset(self::KNOWN[$said]) || preg_match('/[\x80-\xff]/', $body) !== 1)) {
            return ['utf-8', $body];
        }
        // Between 80 and 9f windows-1252 has letters and signs, and the ISO encodings have none.
        $encoding = isset(self::KNOWN[$said]) && $said !== 'utf-8' ? $said : (preg_match('/[\x80-\x9f]/', $body) === 1 ? 'windows-1252' : 'iso-8859-1');

        return [$encoding, mb_convert_encoding($body, 'UTF-8', self::KNOWN[$encoding])];
    }
}
