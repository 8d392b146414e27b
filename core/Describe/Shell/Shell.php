<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Shell;

/**
 * Finds out in which dialect a text is written.
 */
final class Shell
{
    public static function of(string $text): Dialect
    {
        return match (true) {
            preg_match('/\^[ \t]*\r?\n|\^"/', $text) === 1 => new WindowsCommand,
            preg_match('/`[ \t]*\r?\n|^\s*curl\.exe\b[^\n]*`"/', $text) === 1 => new PowerShell,
            default => new Posix,
        };
    }

    /**
     * A text → texts of one command each, parted where a line begins with another one. A line that
     * begins otherwise goes on with the command before it, since documentations forget the sign for that.
     *
     * @return list<string>
     */
    public static function part(string $text): array
    {
        $text = (string) preg_replace('/^\xEF\xBB\xBF/', '', $text);
        // A prompt, and comments on lines of their own.
        $text = (string) preg_replace('/^[ \t]*(?:[$%>#][ \t]+|[A-Za-z]:[^\n>]*>[ \t]*)(?=curl(?:\.exe)?\s)/mi', '', $text);
        $text = self::withoutComments($text);
        $starts = [];
        preg_match_all('/(?:^|(?<=[;&\n]))[ \t]*curl(?:\.exe)?(?=\s)/mi', $text, $found, PREG_OFFSET_CAPTURE);
        foreach ($found[0] as [, $at]) {
            if ($starts === [] || ! self::isQuoted(substr($text, end($starts), $at - end($starts)))) {
                $starts[] = $at;
            }
        }
        $parts = [];
        foreach ($starts as $number => $at) {
            $parts[] = rtrim(substr($text, $at, ($starts[$number + 1] ?? strlen($text)) - $at), "; \t\r\n&");
        }

        return $parts;
    }

    /**
     * Without lines that are comments; a line inside a quote or a here-document is none.
     */
    private static function withoutComments(string $text): string
    {
        $kept = '';
        $command = '';
        $end = null;
        foreach (preg_split('/(?<=\n)/', $text) ?: [] as $line) {
            if ($end !== null) {
                $end = trim($line) === $end ? null : $end;
            } elseif (preg_match('/^[ \t]*(?:#(?!\s*curl\s)|rem\s|::)/i', $line) === 1 && ! self::isQuoted($command)) {
                continue;
            } else {
                $command = preg_match('/^[ \t]*(?:#\s*)?curl(?:\.exe)?\s/i', $line) === 1 && ! self::isQuoted($command) ? $line : $command.$line;
                $end = preg_match('/(?<!<)<<-?[ \t]*([\'"]?)(\w+)\1/', $line, $part) === 1 && ! self::isQuoted($command) ? $part[2] : null;
            }
            $kept .= $line;
        }

        return $kept;
    }

    /**
     * Whether a text ends inside a quote.
     */
    private static function isQuoted(string $text): bool
    {
        if (self::of($text) instanceof Posix) {
            return Posix::isOpen($text);
        }
        $rest = preg_replace('/\\\\.|\^.|`./s', '', $text);
        $rest = preg_replace('/\'[^\']*\'|"[^"]*"/', '', (string) $rest);

        return preg_match('/[\'"]/', (string) $rest) === 1;
    }
}
