<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

use DeepSpring\Sql\Lexer;
use DeepSpring\Sql\Token;
use DeepSpring\Sql\TokenKind;

/**
 * What stands between two commas of SELECT: a column, what is made of one, or something that is only known
 * as text.
 */
final readonly class PickedColumn
{
    /**
     * @param  string  $text  as it is written
     * @param  string  $expression  the same without the name that is given to it
     * @param  ColumnUse|null  $use  null for what is only known as text
     * @param  string|null  $column  as the statement names it; `*` for rows
     * @param  string|null  $zone  of a stretch of time
     */
    private function __construct(public string $text, public string $expression, public ?string $alias, public ?ColumnUse $use, public ?string $column, public ?string $zone)
    {
    }

    public static function of(string $text): self
    {
        $tokens = Lexer::read($text);
        [$own, $alias] = self::named($tokens);
        $last = $own === [] ? null : $own[count($own) - 1];
        $expression = $last === null ? '' : substr($text, $own[0]->at, $last->end() - $own[0]->at);
        $said = self::plain($expression);
        foreach (self::columns($own) as $column) {
            foreach (ColumnUse::cases() as $use) {
                foreach ($use->isTime() ? [null, ...self::zones($own)] : [null] as $zone) {
                    if (self::plain($use->sql($column, $zone)) === $said) {
                        return new self($text, $expression, $alias, $use, $column, $zone);
                    }
                }
            }
        }

        return new self($text, $expression, $alias, null, null, null);
    }

    public static function made(string $column, ColumnUse $use, ?string $zone, ?string $alias): self
    {
        $expression = $use->sql($column, $zone);

        return new self($expression.($alias === null ? '' : " as $alias"), $expression, $alias, $use, $column, $zone);
    }

    /**
     * Whether it stands for many rows at once.
     */
    public function isMeasure(): bool
    {
        return $this->use?->isMeasure() ?? preg_match('/(?<![\w.`])(?:count|sum|avg|min|max|group_concat|bit_and|bit_or|bit_xor|std|stddev\w*|var_\w+|variance|json_arrayagg|json_objectagg)\s*\((?!.*\)\s*over\b)/is', $this->expression) === 1;
    }

    public function isEverything(): bool
    {
        return preg_match('/(?:^|\.)\s*\*$/D', $this->expression) === 1;
    }

    /**
     * What it is called in the result.
     */
    public function name(): string
    {
        return $this->alias ?? self::bare($this->column !== null && $this->use === ColumnUse::Itself ? $this->column : $this->expression);
    }

    /**
     * A name without what stands before its point.
     */
    public static function bare(string $column): string
    {
        $tokens = Lexer::read($column);
        $last = $tokens === [] ? null : $tokens[count($tokens) - 1];

        return count($tokens) === 3 && $tokens[1]->is('.') || count($tokens) === 1 ? ($last?->name() ?? $column) : $column;
    }

    /**
     * The same for texts that differ only in blanks, and in the case of what is no text.
     */
    public static function plain(string $sql): string
    {
        return implode(' ', array_map(static fn (Token $token): string => match (true) {
            $token->kind === TokenKind::Text => strpbrk(substr($token->text, 1, -1), "\\'\"") === false ? "'".substr($token->text, 1, -1)."'" : $token->text,
            $token->name() !== null => strtolower($token->name()),
            default => $token->text,
        }, Lexer::read($sql)));
    }

    /**
     * What is said, and the name that is given to it.
     *
     * @param  list<Token>  $tokens
     * @return array{list<Token>, string|null}
     */
    private static function named(array $tokens): array
    {
        $count = count($tokens);
        $name = $count < 2 ? null : ($tokens[$count - 1]->kind === TokenKind::Text ? null : $tokens[$count - 1]->name());
        if ($name === null) {
            return [$tokens, null];
        }
        if ($count > 2 && $tokens[$count - 2]->is('as')) {
            return [array_slice($tokens, 0, -2), $name];
        }
        // Without AS only after what cannot go on: a column, or the bracket that closes a function.
        $rest = array_slice($tokens, 0, -1);
        $isColumn = count($rest) === 1 && $rest[0]->name() !== null || count($rest) === 3 && $rest[1]->is('.') && $rest[2]->name() !== null;
        $isCall = $rest[0]->kind === TokenKind::Word && ($rest[1] ?? null)?->is('(') === true && self::closes($rest, 1) === count($rest) - 1;

        return ($isColumn || $isCall) && ! $tokens[$count - 1]->is('null', 'true', 'false', 'end', 'unknown') ? [$rest, $name] : [$tokens, null];
    }

    /**
     * @param  list<Token>  $tokens
     */
    private static function closes(array $tokens, int $open): int
    {
        $depth = 0;
        for ($at = $open; $at < count($tokens); $at++) {
            $depth += $tokens[$at]->is('(') ? 1 : ($tokens[$at]->is(')') ? -1 : 0);
            if ($depth === 0) {
                return $at;
            }
        }

        return count($tokens);
    }

    /**
     * Names in it that can be columns, as they are written.
     *
     * @param  list<Token>  $tokens
     * @return list<string>
     */
    private static function columns(array $tokens): array
    {
        $columns = [];
        foreach ($tokens as $number => $token) {
            $after = $tokens[$number + 1] ?? null;
            if ($token->is('*') && ! (($tokens[$number - 1] ?? null)?->is('.') === true)) {
                $columns[] = '*';
            }
            if ($token->name() !== null && $after?->is('(') !== true && ($tokens[$number - 1] ?? null)?->is('.') !== true) {
                $columns[] = $after?->is('.') === true ? "$token->text.".($tokens[$number + 2]->text ?? '') : $token->text;
            }
        }

        return array_values(array_unique($columns));
    }

    /**
     * @param  list<Token>  $tokens
     * @return list<string>
     */
    private static function zones(array $tokens): array
    {
        $texts = array_map(static fn (Token $token): string => (string) $token->value(), array_filter($tokens, static fn (Token $token): bool => $token->kind === TokenKind::Text));

        return array_values(array_filter(array_unique($texts), static fn (string $text): bool => preg_match('~^[A-Za-z_]+(?:/[A-Za-z_+-]+\d*)*$~D', $text) === 1));
    }
}
