<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * MariaDB's lexical structure ("Identifier Names", "String Literals", "Comment Syntax" of its manual) as far
 * as it decides where a name, a text or a comment begins and ends, and parameters beside it.
 */
final class Lexer
{
    private const PATTERN = <<<'PATTERN'
        ~(?<skip>[\s\x{a0}]+|/\*.*?(?:\*/|\z)|--(?=[\s\x00-\x1f]|\z)[^\n]*|\#[^\n]*)
        |(?<name>`(?:[^`]++|``)*+(?:`|\z))
        |(?<text>'(?:[^'\\]++|\\.|'')*+(?:'|\z)|"(?:[^"\\]++|\\.|"")*+(?:"|\z))
        |(?<number>(?:0x[0-9a-f]+|\d+(?:\.\d*)?(?:e[+-]?\d+)?|\.\d+(?:e[+-]?\d+)?)(?![\w$]))
        |(?<parameter>(?<![:\w]):[a-z_][a-z0-9_]*)
        |(?<word>[\w$\x80-\xff]+)
        |(?<sign><=>|<>|!=|<=|>=|:=|\|\||&&|<<|>>|.)~sxi
        PATTERN;

    /**
     * @return list<Token>
     */
    public static function read(string $sql): array
    {
        $tokens = [];
        preg_match_all(self::PATTERN, $sql, $found, PREG_SET_ORDER | PREG_OFFSET_CAPTURE | PREG_UNMATCHED_AS_NULL);
        foreach ($found as $one) {
            $kind = match (true) {
                $one['skip'][0] !== null => null,
                $one['name'][0] !== null => TokenKind::Name,
                $one['text'][0] !== null => TokenKind::Text,
                $one['number'][0] !== null => TokenKind::Number,
                $one['parameter'][0] !== null => TokenKind::Parameter,
                $one['word'][0] !== null => TokenKind::Word,
                default => TokenKind::Sign,
            };
            if ($kind !== null) {
                $tokens[] = new Token($kind, (string) $one[0][0], (int) $one[0][1]);
            }
        }

        return $tokens;
    }
}
