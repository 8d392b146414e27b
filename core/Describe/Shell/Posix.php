<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Shell;

use DeepSpring\Describe\UnreadableCommand;

/**
 * As a POSIX shell parts a line (XCU §2.2), with `$'…'` (§2.2.4 of its 2024 edition) besides.
 * Variables stay as they are written.
 */
final class Posix implements Dialect
{
    public function commands(string $text): array
    {
        $text = (string) preg_replace('/\\\\[ \t]*\r?\n/', ' ', trim($text));
        $commands = [];
        $words = [];
        $word = null;
        $skips = false;
        $length = strlen($text);
        for ($at = 0; $at < $length; $at++) {
            $char = $text[$at];
            if ($char === "'" || $char === '"' || ($char === '$' && ($text[$at + 1] ?? '') === "'")) {
                [$quoted, $at] = self::quoted($text, $at);
                $word = ($word ?? '').$quoted;
            } elseif ($char === '\\' && $at + 1 < $length) {
                $word = ($word ?? '').$text[++$at];
            } elseif ($char === '$' && in_array($text[$at + 1] ?? '', ['{', '('], true)) {
                $close = strpos($text, $text[$at + 1] === '{' ? '}' : ')', $at);
                $word = ($word ?? '').substr($text, $at, ($close === false ? $length : $close + 1) - $at);
                $at = $close === false ? $length : $close;
            } elseif ($char === '#' && $word === null) {
                $at = (strpos($text, "\n", $at) ?: $length) - 1;
            } elseif ($char === '>' || $char === '<') {
                $redirects = $word !== null && preg_match('/^\d$/D', $word) === 1;
                if ($redirects) {
                    $word = null;
                }
                $words = self::with($word, $words, $skips);
                $word = null;
                // The file that it names is no word of the command.
                $at += strspn($text, '>&< ', $at) - 1;
                $at += strcspn($text, " \t\r\n;|&", $at + 1);
            } elseif ($char === ';' || $char === '|' || $char === '&') {
                $words = self::with($word, $words, $skips);
                $word = null;
                $skips = $char === '|' && ($text[$at + 1] ?? '') !== '|' || $skips && $char !== ';' && ($text[$at + 1] ?? '') !== $char;
                if (! $skips) {
                    $commands[] = $words;
                    $words = [];
                }
                $at += ($text[$at + 1] ?? '') === $char ? 1 : 0;
            } elseif (ctype_space($char)) {
                $words = self::with($word, $words, $skips);
                $word = null;
            } else {
                $word = ($word ?? '').$char;
            }
        }

        return array_values(array_filter([...$commands, self::with($word, $words, $skips)], static fn (array $one): bool => $one !== []));
    }

    /**
     * @param  list<string>  $words
     * @return list<string>
     */
    private static function with(?string $word, array $words, bool $skips): array
    {
        return $word === null || $skips ? $words : [...$words, $word];
    }

    /**
     * @return array{string, int} the text, and where its closing quote stands
     */
    private static function quoted(string $text, int $at): array
    {
        $ansi = $text[$at] === '$';
        $quote = $text[$at + ($ansi ? 1 : 0)];
        $inside = '';
        for ($i = $at + ($ansi ? 2 : 1); $i < strlen($text); $i++) {
            $char = $text[$i];
            if ($char === $quote) {
                return [$inside, $i];
            }
            if ($char === '\\' && $ansi) {
                [$unescaped, $i] = self::escape($text, $i + 1);
                $inside .= $unescaped;
            } elseif ($char === '\\' && $quote === '"' && in_array($text[$i + 1] ?? '', ['"', '\\', '$', '`', "\n"], true)) {
                $inside .= $text[++$i] === "\n" ? '' : $text[$i];
            } else {
                $inside .= $char;
            }
        }

        throw UnreadableCommand::openQuote($quote, $at + 1);
    }

    /**
     * What follows a backslash in `$'…'`.
     *
     * @return array{string, int} the character, and where its writing ends
     */
    private static function escape(string $text, int $at): array
    {
        if (preg_match('/\Gx([0-9A-Fa-f]{1,2})/', $text, $part, 0, $at) === 1) {
            return [chr((int) hexdec($part[1])), $at + strlen($part[0]) - 1];
        }
        if (preg_match('/\G(?:u([0-9A-Fa-f]{1,4})|U([0-9A-Fa-f]{1,8}))/', $text, $part, 0, $at) === 1) {
            return [mb_chr((int) hexdec($part[2] ?? $part[1]), 'UTF-8') ?: '', $at + strlen($part[0]) - 1];
        }
        if (preg_match('/\G[0-7]{1,3}/', $text, $part, 0, $at) === 1) {
            return [chr((int) octdec($part[0]) & 255), $at + strlen($part[0]) - 1];
        }
        $char = $text[$at] ?? '';

        return [['n' => "\n", 't' => "\t", 'r' => "\r", 'a' => "\x07", 'b' => "\x08", 'e' => "\x1b", 'f' => "\f", 'v' => "\v"][$char] ?? (in_array($char, ['\\', "'", '"', '?'], true) ? $char : "\\$char"), $at];
    }
}
