<?php

declare(strict_types=1);

namespace DeepSpring\Describe\Shell;

use DeepSpring\Describe\UnreadableCommand;

/**
 * As a POSIX shell parts a line (XCU §2.2), with here-documents (§2.7.4), with `$'…'` (§2.2.4 of its
 * 2024 edition) and with `<<<` besides. Variables stay as they are written.
 */
final class Posix implements Dialect
{
    private string $text = '';

    /** @var array<int, ShellCommand> in their order */
    private array $commands = [];

    /** @var list<string> of the command that is read */
    private array $words = [];

    /** What has been read of a word; null between words. */
    private ?string $word = null;

    /** Whether what is read belongs to a command behind a pipe, which is none of ours. */
    private bool $skips = false;

    private ?string $input = null;

    /** @var list<array{string, bool, bool, int|null}> here-documents that begin with the next line: how they end, whether as they stand, whether without tabs, for which command */
    private array $awaited = [];

    public function commands(string $text): array
    {
        [$this->text, $this->commands, $this->words, $this->word, $this->skips, $this->input, $this->awaited] = [trim($text), [], [], null, false, null, []];
        $length = strlen($this->text);
        for ($at = 0; $at < $length; $at++) {
            $at = $this->character($at, $length);
        }
        $this->endCommand();

        return array_values($this->commands);
    }

    /**
     * Whether a text ends inside a quote.
     */
    public static function isOpen(string $text): bool
    {
        for ($at = 0; $at < strlen($text); $at++) {
            if ($text[$at] === '\\') {
                $at++;
            } elseif ($text[$at] === "'" || $text[$at] === '"') {
                try {
                    [, $at] = self::quoted($text, $at > 0 && $text[$at] === "'" && $text[$at - 1] === '$' ? $at - 1 : $at);
                } catch (UnreadableCommand) {
                    return true;
                }
            }
        }

        return false;
    }

    /**
     * @return int where the last character that was used stands
     */
    private function character(int $at, int $length): int
    {
        $char = $this->text[$at];
        $next = $this->text[$at + 1] ?? '';
        if ($char === "'" || $char === '"' || ($char === '$' && $next === "'")) {
            [$quoted, $at] = self::quoted($this->text, $at);
            $this->word = ($this->word ?? '').$quoted;
        } elseif ($char === '\\') {
            return $this->backslash($at);
        } elseif ($char === '$' && in_array($next, ['{', '('], true)) {
            $close = strpos($this->text, $next === '{' ? '}' : ')', $at);
            $this->word = ($this->word ?? '').substr($this->text, $at, ($close === false ? $length : $close + 1) - $at);
            $at = $close === false ? $length : $close;
        } elseif ($char === '#' && $this->word === null) {
            $at = (strpos($this->text, "\n", $at) ?: $length) - 1;
        } elseif ($char === '<' && $next === '<') {
            $at = $this->here($at);
        } elseif ($char === '>' || $char === '<') {
            $this->word = $this->word !== null && preg_match('/^\d$/D', $this->word) === 1 ? null : $this->word;
            $this->endWord();
            // The file that it names is no word of the command.
            $at += strspn($this->text, '>&< ', $at) - 1;
            $at += strcspn($this->text, " \t\r\n;|&", $at + 1);
        } elseif ($char === ';' || $char === '|' || $char === '&') {
            $this->endWord();
            $skips = $char === '|' && $next !== '|' || $this->skips && $char !== ';' && $next !== $char;
            if (! $skips) {
                $this->endCommand();
            }
            $this->skips = $skips;
            $at += $next === $char ? 1 : 0;
        } elseif (ctype_space($char)) {
            $this->endWord();
            $at = $char === "\n" && $this->awaited !== [] ? $this->documents($at) : $at;
        } else {
            $this->word = ($this->word ?? '').$char;
        }

        return $at;
    }

    /**
     * Before a line break it joins two lines; one with blanks after it, as copying leaves them, joins them
     * as well; at the end of all it joins nothing.
     */
    private function backslash(int $at): int
    {
        if (preg_match('/\G\\\\(?:([ \t]*)\r?\n|[ \t]*$)/D', $this->text, $part, 0, $at) === 1) {
            if (($part[1] ?? '') !== '') {
                $this->endWord();
            }

            return $at + strlen($part[0]) - 1;
        }
        $this->word = ($this->word ?? '').($this->text[$at + 1] ?? '');

        return $at + 1;
    }

    /**
     * `<<EOF`, `<<-EOF`, `<<'EOF'` or `<<< word`.
     */
    private function here(int $at): int
    {
        $this->endWord();
        if (preg_match('/\G<<<[ \t]*/', $this->text, $part, 0, $at) === 1) {
            [$word, $at] = $this->bare($at + strlen($part[0]));
            $this->input = $this->skips ? $this->input : "$word\n";

            return $at;
        }
        preg_match('/\G<<(-?)[ \t]*/', $this->text, $part, 0, $at);
        $from = $at + strlen($part[0] ?? '');
        [$word, $at] = $this->bare($from);
        $this->awaited[] = [$word, preg_match('/[\'"\\\\]/', substr($this->text, $from, $at - $from + 1)) === 1, ($part[1] ?? '') === '-', $this->skips ? null : count($this->commands)];

        return $at;
    }

    /**
     * The word that begins somewhere, without its quotes.
     *
     * @return array{string, int} and where it ends
     */
    private function bare(int $at): array
    {
        $word = '';
        for (; $at < strlen($this->text) && strpbrk($this->text[$at], " \t\r\n;|&<>") === false; $at++) {
            if ($this->text[$at] === "'" || $this->text[$at] === '"' || $this->text[$at] === '$' && ($this->text[$at + 1] ?? '') === "'") {
                [$quoted, $at] = self::quoted($this->text, $at);
                $word .= $quoted;
            } else {
                $at += $this->text[$at] === '\\' ? 1 : 0;
                $word .= $this->text[$at] ?? '';
            }
        }

        return [$word, $at - 1];
    }

    /**
     * The here-documents behind the end of a line.
     *
     * @return int where the last of them ends
     */
    private function documents(int $at): int
    {
        foreach ($this->awaited as [$end, $isLiteral, $withoutTabs, $command]) {
            $lines = [];
            do {
                $break = strpos($this->text, "\n", $at + 1);
                $line = substr($this->text, $at + 1, ($break === false ? strlen($this->text) : $break) - $at - 1);
                $at = $break === false ? strlen($this->text) : $break;
                $line = $withoutTabs ? ltrim($line, "\t") : $line;
                if (rtrim($line, "\r") === $end) {
                    break;
                }
                $lines[] = "$line\n";
            } while ($break !== false);
            $content = implode('', $lines);
            $content = $isLiteral ? $content : (string) preg_replace(['/\\\\\n/', '/\\\\([$`\\\\])/'], ['', '$1'], $content);
            if ($command !== null && isset($this->commands[$command])) {
                $this->commands[$command] = new ShellCommand($this->commands[$command]->words, $content);
            } else {
                $this->input = $command === null ? $this->input : $content;
            }
        }
        $this->awaited = [];

        return $at;
    }

    private function endWord(): void
    {
        if ($this->word !== null && ! $this->skips) {
            $this->words[] = $this->word;
        }
        $this->word = null;
    }

    private function endCommand(): void
    {
        $this->endWord();
        if ($this->words !== []) {
            $this->commands[] = new ShellCommand($this->words, $this->input);
        }
        [$this->words, $this->input] = [[], null];
    }

    /**
     * @return array{string, int} the text, and where its closing quote stands
     *
     * @throws UnreadableCommand
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
