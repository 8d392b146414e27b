<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * A command line → its words, as a POSIX shell parts them (XCU §2.2), with `$'…'` besides and the
 * line continuations of other shells (`^`, a backtick at the end of a line).
 */
final class ShellWords
{
    /**
     * @return list<string>
     *
     * @throws UnreadableCommand
     */
    public static function of(string $command): array
    {
        $command = (string) preg_replace('/[\\\\^`][ \t]*\r?\n/', ' ', trim($command));
        $words = [];
        $word = null;
        $length = strlen($command);
        for ($at = 0; $at < $length; $at++) {
            $char = $command[$at];
            if ($char === "'" || $char === '"' || ($char === '$' && ($command[$at + 1] ?? '') === "'")) {
                [$text, $end] = self::quoted($command, $at);
                $word = ($word ?? '').$text;
                $at = $end;
            } elseif ($char === '\\' && $at + 1 < $length) {
                $word = ($word ?? '').$command[++$at];
            } elseif (ctype_space($char)) {
                if ($word !== null) {
                    $words[] = $word;
                }
                $word = null;
            } else {
                $word = ($word ?? '').$char;
            }
        }

        return $word === null ? $words : [...$words, $word];
    }

    /**
     * @return array{string, int} the text, and where its closing quote stands
     */
    private static function quoted(string $command, int $at): array
    {
        $ansi = $command[$at] === '$';
        $quote = $command[$at + ($ansi ? 1 : 0)];
        $text = '';
        for ($i = $at + ($ansi ? 2 : 1); $i < strlen($command); $i++) {
            $char = $command[$i];
            if ($char === $quote) {
                return [$ansi ? stripcslashes($text) : $text, $i];
            }
            if ($char === '\\' && $ansi) {
                $text .= $char.($command[++$i] ?? '');
            } elseif ($char === '\\' && $quote === '"' && in_array($command[$i + 1] ?? '', ['"', '\\', '$', '`', "\n"], true)) {
                $text .= $command[++$i];
            } else {
                $text .= $char;
            }
        }

        throw UnreadableCommand::openQuote($quote, $at + 1);
    }
}
