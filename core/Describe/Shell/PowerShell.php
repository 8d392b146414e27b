<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Shell;

use DeepSpring\Describe\UnreadableCommand;

/**
 * Single quotes keep all but a doubled quote; in double quotes and outside, a backtick escapes.
 */
final class PowerShell implements Dialect
{
    public function commands(string $text): array
    {
        $text = (string) preg_replace('/`[ \t]*\r?\n/', ' ', $text);
        $words = [];
        $word = null;
        for ($at = 0; $at < strlen($text); $at++) {
            $char = $text[$at];
            if ($char === "'" || $char === '"') {
                $close = self::close($text, $at);
                $inside = substr($text, $at + 1, $close - $at - 1);
                $inside = $char === "'" ? str_replace("''", "'", $inside) : str_replace('""', '"', (string) preg_replace_callback('/`(.)/s', static fn (array $part): string => ['n' => "\n", 't' => "\t", 'r' => "\r", '0' => "\0"][$part[1]] ?? $part[1], $inside));
                // A program that is started has its own reading of quotes, so they come with backslashes.
                $word = ($word ?? '').str_replace('\\"', '"', $inside);
                $at = $close;
            } elseif ($char === '`') {
                $word = ($word ?? '').($text[++$at] ?? '');
            } elseif ($char === '|' || $char === ';') {
                break;
            } elseif (ctype_space($char)) {
                if ($word !== null) {
                    $words[] = $word;
                }
                $word = null;
            } else {
                $word = ($word ?? '').$char;
            }
        }

        $words = $word === null ? $words : [...$words, $word];

        return $words === [] ? [] : [new ShellCommand($words)];
    }

    private static function close(string $text, int $open): int
    {
        $quote = $text[$open];
        for ($at = $open + 1; $at < strlen($text); $at++) {
            if ($text[$at] === '`' && $quote === '"') {
                $at++;
            } elseif ($text[$at] === $quote && ($text[$at + 1] ?? '') === $quote) {
                $at++;
            } elseif ($text[$at] === $quote) {
                return $at;
            }
        }

        throw UnreadableCommand::openQuote($quote, $open + 1);
    }
}
