<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

final class ExpressionLexer
{
    public const LONGEST = 4000;

    private const WORDS = ['and', 'or', 'not', 'in', 'true', 'false', 'null'];

    private const PATTERN = '/\G\s*+(?:(?<number>\d+(?:\.\d+)?)|(?<name>[A-Za-z_]\w*)|(?<quoted>`[^`]+`)|(?<text>\'(?:[^\'\\\\]|\\\\.)*+\'|"(?:[^"\\\\]|\\\\.)*+")|(?<mark>!==|===|!=|==|<=|>=|[<>()\[\],+*\/%-]))/su';

    private const ESCAPES = ['\\n' => "\n", '\\t' => "\t", '\\r' => "\r"];

    /**
     * @return non-empty-list<ExpressionToken>
     *
     * @throws InvalidExpression
     */
    public static function tokens(string $text): array
    {
        if (preg_match('//u', $text) !== 1) {
            throw InvalidExpression::at(0, 'it is not UTF-8.');
        }
        if (mb_strlen($text, 'UTF-8') > self::LONGEST) {
            throw InvalidExpression::at(self::LONGEST, 'an expression has at most '.self::LONGEST.' characters.');
        }
        $tokens = [];
        $at = 0;
        while (preg_match(self::PATTERN, $text, $part, PREG_UNMATCHED_AS_NULL, $at) === 1) {
            $whole = (string) $part[0];
            $position = mb_strlen(substr($text, 0, $at + strlen($whole) - strlen(ltrim($whole))), 'UTF-8');
            $at += strlen($whole);
            $tokens[] = match (true) {
                isset($part['number']) => new ExpressionToken(ExpressionTokenKind::Number, $part['number'], $position),
                isset($part['name']) => new ExpressionToken(in_array($part['name'], self::WORDS, true) ? ExpressionTokenKind::Word : ExpressionTokenKind::Name, $part['name'], $position),
                isset($part['quoted']) => new ExpressionToken(ExpressionTokenKind::Name, substr($part['quoted'], 1, -1), $position),
                isset($part['text']) => new ExpressionToken(ExpressionTokenKind::Text, self::unescaped(substr($part['text'], 1, -1)), $position),
                default => new ExpressionToken(ExpressionTokenKind::Mark, (string) $part['mark'], $position),
            };
        }
        $rest = ltrim(substr($text, $at));
        $position = mb_strlen($text, 'UTF-8') - mb_strlen($rest, 'UTF-8');
        if ($rest !== '') {
            $sign = mb_substr($rest, 0, 1, 'UTF-8');

            throw InvalidExpression::at($position, match (true) {
                $sign === '"' || $sign === "'" => 'this text has no end; it ends with the quote it began with.',
                $sign === '`' => 'this name has no end; it stands between two backticks.',
                $sign === '=' => 'one "=" means nothing here; "==" compares.',
                $sign === '&' => '"&" means nothing here; write "and".',
                $sign === '|' => '"|" means nothing here; write "or".',
                $sign === '!' => '"!" means nothing here; write "not".',
                $sign === '~' || $sign === '.' => "\"$sign\" means nothing here; concat(…) joins texts.",
                default => "\"$sign\" means nothing here.",
            });
        }
        $tokens[] = new ExpressionToken(ExpressionTokenKind::End, '', $position);

        return $tokens;
    }

    private static function unescaped(string $text): string
    {
        return (string) preg_replace_callback('/\\\\(.)/su', static fn (array $part): string => self::ESCAPES[$part[0]] ?? $part[1], $text);
    }
}
