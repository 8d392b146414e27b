<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * Where MariaDB stumbles over the grammar of a statement, and what may have been meant there.
 */
final readonly class SyntaxFaults
{
    /** Keywords that may have been meant where the database stumbles. */
    private const KEYWORDS = ['select', 'from', 'where', 'group', 'order', 'by', 'having', 'limit', 'join', 'left', 'inner', 'on', 'using', 'and', 'or', 'not', 'in', 'like', 'between', 'is', 'null', 'as', 'with', 'union', 'distinct', 'case', 'when', 'then', 'else', 'end', 'desc', 'asc', 'offset', 'exists'];

    /** What other databases say, and what is said here. */
    private const ELSEWHERE = [
        'top' => 'MariaDB has no TOP: write "limit 5" at the end', 'ilike' => 'MariaDB has no ILIKE: write "like", and "collate utf8mb4_general_ci" behind it where case does not matter',
        'qualify' => 'MariaDB has no QUALIFY: put the window function into a query of its own, and the condition around it', '::' => 'MariaDB has no "::": write cast(… as …)',
        'full' => 'MariaDB has no FULL JOIN: unite a left and a right join with UNION',
    ];

    public function __construct(private Nouns $nouns)
    {
    }

    public function of(string $said, string $sql): StatementFault
    {
        if (preg_match("/near '(.*)' at line (\d+)$/s", $said, $part) !== 1) {
            return new StatementFault('The database does not understand the query.');
        }
        [$near, $line] = [$part[1], (int) $part[2]];
        $tokens = Lexer::read($sql);
        if ($near === '') {
            return $this->unfinished($sql, $tokens);
        }
        $at = self::occurrence($sql, $near, $line);
        $index = null;
        foreach ($tokens as $number => $token) {
            if ($at !== null && $token->at <= $at && $token->end() > $at) {
                $index = $number;
            }
        }
        $token = $index === null ? null : $tokens[$index];
        $begins = "The database does not understand the query from line $line on, at \"".mb_strimwidth(strtok($near, "\n") ?: $near, 0, 40, '…').'"';
        if ($token === null) {
            return new StatementFault("$begins.", $at, strlen($near));
        }
        if ($token->kind === TokenKind::Text && substr_count($token->text, $token->text[0]) % 2 === 1) {
            return new StatementFault("The text that begins with {$token->text[0]} in line ".(new StatementFault('', $token->at))->line($sql).' has no end.', $token->at, strlen($token->text));
        }
        if ($index > 0 && $token->is('*') && $tokens[$index - 1]->is('(') && ($tokens[$index - 2] ?? null)?->kind === TokenKind::Word) {
            $name = $tokens[$index - 2]->text;

            return new StatementFault("Between $name and its bracket no blank may stand: $name(*).", $tokens[$index - 2]->at, $token->end() - $tokens[$index - 2]->at, "$name(*");
        }
        foreach ([$token, $tokens[$index - 1] ?? null] as $one) {
            if ($one !== null && isset(self::ELSEWHERE[strtolower($one->text)])) {
                return new StatementFault(self::ELSEWHERE[strtolower($one->text)].'.', $one->at, strlen($one->text));
            }
        }
        foreach ([$tokens[$index - 1] ?? null, $token, $tokens[$index - 2] ?? null] as $one) {
            $meant = $one === null ? null : $this->meant($one);
            if ($one !== null && $meant !== null) {
                return new StatementFault("$begins. Did you mean $meant in place of {$one->text}?", $one->at, strlen($one->text), $meant);
            }
        }
        $before = $tokens[$index - 1] ?? null;
        $hint = match (true) {
            $before?->is(',') === true && $token->is('from', 'where', 'group', 'order', ')') => ' There is a comma too many before it.',
            $before?->name() !== null && $token->name() !== null && ! $token->is(...self::KEYWORDS) && ! $before->is(...self::KEYWORDS) => ' Perhaps a comma is missing before it.',
            default => '',
        };

        return new StatementFault("$begins.$hint", $token->at, strlen($token->text));
    }

    /**
     * @param  list<Token>  $tokens
     */
    private function unfinished(string $sql, array $tokens): StatementFault
    {
        $open = [];
        foreach ($tokens as $token) {
            $token->is('(') ? $open[] = $token : ($token->is(')') ? array_pop($open) : null);
        }
        $last = end($tokens) ?: null;
        if ($open !== []) {
            $bracket = end($open);

            return new StatementFault('The query ends, and the bracket that opens in line '.(new StatementFault('', $bracket->at))->line($sql).' is not closed.', $bracket->at, 1);
        }
        if ($last?->is(')') === true && preg_match('/\)\s*$/', $sql) === 1) {
            return new StatementFault('The query ends too early. A query in brackets that is read like a table needs a name behind it: … ) as t.', $last->at, 1);
        }

        return new StatementFault('The query ends too early'.($last === null ? '.' : ", after \"{$last->text}\"."), $last?->at, strlen($last->text ?? ''));
    }

    /**
     * The keyword that a word was probably meant to be.
     */
    private function meant(Token $token): ?string
    {
        if ($token->kind !== TokenKind::Word || strlen($token->text) < 3 || $token->is(...self::KEYWORDS) || $this->nouns->has($token->text)) {
            return null;
        }
        foreach (self::KEYWORDS as $keyword) {
            if (strlen($keyword) > 3 && (levenshtein(strtolower($token->text), $keyword) === 1 || self::letters($token->text) === self::letters($keyword))) {
                return $keyword;
            }
        }

        return null;
    }

    private static function letters(string $word): string
    {
        $letters = str_split(strtolower($word));
        sort($letters);

        return implode('', $letters);
    }

    /**
     * Where the text that the database quotes begins, in the line that it says.
     */
    private static function occurrence(string $sql, string $near, int $line): ?int
    {
        for ($at = strpos($sql, $near); $at !== false; $at = strpos($sql, $near, $at + 1)) {
            if (substr_count($sql, "\n", 0, $at) + 1 === $line) {
                return $at;
            }
        }
        $rest = strrpos($sql, $near);

        return $rest === false ? null : $rest;
    }
}
