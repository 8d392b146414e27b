<?php

declare(strict_types=1);

namespace DeepSpring\Describe\OpenApi;

use DeepSpring\Value\BeyondBounds;
use DeepSpring\Value\YamlText;
use Symfony\Component\Yaml\Exception\ParseException;

/**
 * YAML → arrays. Files that programs write are nearly all lines of `name: value`, `name:` and `- …`;
 * those are read here, line by line, some twenty times faster than by a parser of the whole language.
 * Whatever is more than that (flow collections, folded texts, anchors, tags) goes to that parser, in
 * as small a piece as holds it.
 */
final class Yaml
{
    /** Bytes that the parser of the whole language takes well under a second for. */
    private const SHORT = 256 << 10;

    /** @var array<int, string> */
    private array $lines = [];

    private int $at = 0;

    private int $count = 0;

    private bool $isUnsure = false;

    /**
     * @throws ParseException
     * @throws BeyondBounds
     */
    public function parse(string $text): mixed
    {
        if (preg_match('/^(?:%|---|\.\.\.)|(?:^|[\s:])[&*!][A-Za-z]|<<:|\t/m', $text) === 1 || ! mb_check_encoding($text, 'UTF-8')) {
            return YamlText::parse($text);
        }
        try {
            return $this->quick($text);
        } catch (ParseException $fault) {
            // Whether it is one is for the parser of the whole language to say, where that takes no minutes.
            return strlen($text) <= self::SHORT ? YamlText::parse($text) : throw $fault;
        }
    }

    /**
     * @throws ParseException
     * @throws BeyondBounds
     */
    private function quick(string $text): mixed
    {
        $this->lines = explode("\n", str_replace("\r\n", "\n", $text));
        $this->count = count($this->lines);
        $this->at = 0;
        $this->isUnsure = false;
        $this->skip();
        if ($this->at >= $this->count) {
            return null;
        }
        $value = $this->block($this->indent());
        $this->skip();

        // What is not understood to its end is left to the parser of the whole language.
        return $this->isUnsure || $this->at < $this->count ? YamlText::parse($text) : $value;
    }

    private function skip(): void
    {
        while ($this->at < $this->count && (($line = ltrim($this->lines[$this->at], ' ')) === '' || $line[0] === '#')) {
            $this->at++;
        }
    }

    private function indent(): int
    {
        return strspn($this->lines[$this->at], ' ');
    }

    /**
     * A mapping, a sequence, or what is neither, at an indent.
     */
    private function block(int $indent): mixed
    {
        $line = substr($this->lines[$this->at], $indent);

        return match (true) {
            $line === '-' || str_starts_with($line, '- ') => $this->sequence($indent),
            self::key($line) !== null => $this->mapping($indent),
            default => $this->foreign($indent, $this->at, 0),
        };
    }

    /**
     * @return array<array-key, mixed>
     */
    private function mapping(int $indent): array
    {
        $map = [];
        while ($this->at < $this->count) {
            $this->skip();
            if ($this->at >= $this->count || ($here = $this->indent()) < $indent) {
                break;
            }
            if ($here > $indent) {
                return $this->give($map);
            }
            $line = substr($this->lines[$this->at], $indent);
            $found = self::key($line);
            if ($found === null) {
                if ($line === '-' || str_starts_with($line, '- ')) {
                    break;
                }

                return $this->give($map);
            }
            [$key, $rest] = $found;
            if (array_key_exists($key, $map)) {
                throw new ParseException("Duplicate key \"$key\" detected", $this->at + 1);
            }
            $map[$key] = $this->value($rest, $indent, false);
        }

        return $map;
    }

    /**
     * Ends the reading: the rest is beyond it.
     *
     * @param  array<array-key, mixed>  $map
     * @return array<array-key, mixed>
     */
    private function give(array $map): array
    {
        $this->isUnsure = true;
        $this->at = $this->count;

        return $map;
    }

    /**
     * @return list<mixed>
     */
    private function sequence(int $indent): array
    {
        $list = [];
        while ($this->at < $this->count) {
            $this->skip();
            if ($this->at >= $this->count || $this->indent() !== $indent) {
                break;
            }
            $line = substr($this->lines[$this->at], $indent);
            if ($line === '-') {
                $list[] = $this->value('', $indent, true);

                continue;
            }
            if (! str_starts_with($line, '- ')) {
                break;
            }
            $rest = ltrim(substr($line, 2), ' ');
            $inner = $indent + strlen($line) - strlen($rest);
            if (self::key($rest) !== null || str_starts_with($rest, '- ') || $rest === '-') {
                // The dash is a blank to what stands behind it.
                $this->lines[$this->at] = str_repeat(' ', $inner).$rest;
                $list[] = $this->block($inner);
            } else {
                $list[] = $this->value($rest, $indent, true);
            }
        }

        return $list;
    }

    /**
     * What stands behind a name or a dash, or in the lines below it.
     */
    private function value(string $rest, int $indent, bool $inList): mixed
    {
        if ($rest === '' || $rest[0] === '#') {
            $this->at++;
            $this->skip();
            if ($this->at >= $this->count) {
                return null;
            }
            $here = $this->indent();
            // A sequence may stand as far to the left as the name it belongs to.
            $isLevel = ! $inList && $here === $indent && preg_match('/^-(?: |$)/', substr($this->lines[$this->at], $here, 2)) === 1;

            return $here > $indent || $isLevel ? $this->block($here) : null;
        }
        if (preg_match('/^(?:[A-Za-z_\/$(][^:#{}\[\],&*?|>%@`"\'\n]*|"(?:[^"\\\\\n]|\\\\["\\\\\/nt])*"|\'(?:[^\'\n]|\'\')*\'|-?(?:0|[1-9]\d{0,15})|\[\]|\{\})[ ]*$/D', $rest) === 1 && ! $this->goesOn($indent, $inList)) {
            $this->at++;

            return self::scalar(rtrim($rest, ' '));
        }

        return $this->foreign($indent, $this->at, strlen($this->lines[$this->at]) - strlen($rest), $inList);
    }

    /**
     * Whether the next line belongs to this value, because it stands further in.
     */
    private function goesOn(int $indent, bool $inList): bool
    {
        for ($next = $this->at + 1; $next < $this->count; $next++) {
            $line = $this->lines[$next];
            $text = ltrim($line, ' ');
            if ($text === '') {
                continue;
            }

            return $text[0] !== '#' && strlen($line) - strlen($text) > $indent;
        }

        return false;
    }

    private static function scalar(string $text): mixed
    {
        if ($text[0] === '"') {
            return json_decode($text) ?? strtr(substr($text, 1, -1), ['\\"' => '"', '\\\\' => '\\', '\\n' => "\n", '\\t' => "\t", '\\/' => '/']);
        }
        if ($text[0] === "'") {
            return str_replace("''", "'", substr($text, 1, -1));
        }

        return match ($text) {
            'true', 'True', 'TRUE' => true,
            'false', 'False', 'FALSE' => false,
            'null', 'Null', 'NULL' => null,
            '[]', '{}' => [],
            default => preg_match('/^-?\d+$/D', $text) === 1 ? (int) $text : $text,
        };
    }

    /**
     * Gives one value, with the lines that stand further in than the name it belongs to, to the parser
     * of the whole language.
     *
     * @param  int  $from  column where the value begins
     */
    private function foreign(int $indent, int $line, int $from, bool $inList = false): mixed
    {
        $end = $line + 1;
        $open = substr_count($this->lines[$line], '{') + substr_count($this->lines[$line], '[') > substr_count($this->lines[$line], '}') + substr_count($this->lines[$line], ']');
        while ($end < $this->count) {
            $text = ltrim($this->lines[$end], ' ');
            if ($text !== '' && strlen($this->lines[$end]) - strlen($text) <= ($from === 0 ? $indent - 1 : $indent) && ! ($open && preg_match('/^[}\]]/', $text) === 1)) {
                break;
            }
            $end++;
        }
        $piece = array_slice($this->lines, $line, $end - $line);
        $piece[0] = substr($piece[0], $from);
        $shift = $from === 0 ? 0 : 4;
        // Without the indent of a piece that begins with its line: not every one that is indented as a whole is read.
        $yaml = $from === 0 ? implode("\n", array_map(static fn (string $one): string => substr($one, min($indent, strspn($one, ' '))), $piece)) : ($inList ? '- ' : 'v: ').implode("\n", array_merge([$piece[0]], array_map(static fn (string $one): string => str_repeat(' ', $shift).$one, array_slice($piece, 1))));
        try {
            $value = YamlText::parse("$yaml\n");
        } catch (ParseException $fault) {
            throw new ParseException((string) preg_replace('/ at line \d+.*$/s', '', $fault->getMessage()), $line + ($from === 0 ? max(1, $fault->getParsedLine()) : max(1, min($fault->getParsedLine(), count($piece)))));
        }
        $this->at = $end;

        return $from === 0 ? $value : (is_array($value) ? $value[$inList ? 0 : 'v'] ?? null : null);
    }

    /**
     * @return array{string|int, string}|null name, and what stands behind the colon
     */
    private static function key(string $line): ?array
    {
        if (preg_match('/^([A-Za-z0-9_\/$.~\x80-\xff](?:[^:#"\'{}\[\],&*]*[^\s:#"\'{}\[\],&*])?|"[^"\\\\\n]*"|\'[^\'\n]*\'|[\/][^\s:#"\',&*]*):(?: +(.*)|[ ]*)$/D', $line, $part) !== 1) {
            return null;
        }
        // A number with a point is no name; whole numbers are, as status codes.
        if (is_numeric($part[1]) && preg_match('/^\d+$/D', $part[1]) !== 1) {
            return null;
        }
        $key = $part[1][0] === '"' || $part[1][0] === "'" ? substr($part[1], 1, -1) : $part[1];

        // As it stands: where a value begins is counted from the end of its line.
        return [$key, $part[2] ?? ''];
    }
}
