<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Shell;

use DeepSpring\Describe\UnreadableCommand;

/**
 * As the command prompt of Windows hands a line on, and as a program there parts it: first carets
 * are taken away, then backslashes and quotes are read.
 */
final class WindowsCommand implements Dialect
{
    public function commands(string $text): array
    {
        $words = self::words(self::withoutCarets($text));

        return $words === [] ? [] : [new ShellCommand($words)];
    }

    private static function withoutCarets(string $text): string
    {
        $plain = '';
        $quoted = false;
        $length = strlen($text);
        for ($at = 0; $at < $length; $at++) {
            $char = $text[$at];
            if ($char === '^' && ! $quoted) {
                $at++;
                $at += strspn($text, " \t", $at) > 0 && preg_match('/\G[ \t]+\r?\n/', $text, $blank, 0, $at) === 1 ? strlen($blank[0]) - 1 : 0;
                if (($text[$at] ?? '') === "\r" && ($text[$at + 1] ?? '') === "\n") {
                    $at++;
                }
                // A caret at the end of a line joins it to the next; two of them make a line break.
                if (($text[$at] ?? '') === "\n") {
                    $isBreak = preg_match('/\G\n\r?\n/', $text, $two, 0, $at) === 1;
                    $plain .= $isBreak ? "\n" : '';
                    $at += $isBreak ? strlen($two[0]) - 1 : 0;
                } else {
                    $plain .= $text[$at] ?? '';
                }
            } elseif (! $quoted && ($char === '|' || $char === '&' || $char === '>')) {
                break;
            } else {
                $quoted = $char === '"' ? ! $quoted : $quoted && $char !== "\n";
                $plain .= $char;
            }
        }

        return $plain;
    }

    /**
     * @return list<string>
     */
    private static function words(string $line): array
    {
        $words = [];
        $word = null;
        $quoted = false;
        $length = strlen($line);
        for ($at = 0; $at < $length; $at++) {
            $char = $line[$at];
            if ($char === '\\') {
                $many = strspn($line, '\\', $at);
                $beforeQuote = ($line[$at + $many] ?? '') === '"';
                $word = ($word ?? '').str_repeat('\\', $beforeQuote ? intdiv($many, 2) : $many);
                $at += $many - 1;
                if ($beforeQuote && $many % 2 === 1) {
                    $word .= '"';
                    $at++;
                }
            } elseif ($char === '"') {
                if ($quoted && ($line[$at + 1] ?? '') === '"') {
                    $word = ($word ?? '').'"';
                    $at++;
                } else {
                    $quoted = ! $quoted;
                    $word ??= '';
                }
            } elseif (! $quoted && ctype_space($char)) {
                if ($word !== null) {
                    $words[] = $word;
                }
                $word = null;
            } else {
                $word = ($word ?? '').$char;
            }
        }
        if ($quoted) {
            throw UnreadableCommand::openQuote('"', (int) strrpos($line, '"') + 1);
        }

        return $word === null ? $words : [...$words, $word];
    }
}
