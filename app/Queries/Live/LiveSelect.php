<?php

declare(strict_types=1);

namespace App\Queries\Live;

use DeepSpring\OData\Pushdown\Wanted;
use DeepSpring\Sql\Lexer;
use PhpMyAdmin\SqlParser\Components\Expression;
use PhpMyAdmin\SqlParser\Parser;
use PhpMyAdmin\SqlParser\Statements\SelectStatement;
use PhpMyAdmin\SqlParser\Token;

/**
 * What a statement wants of one table. Whatever is not plain is left to the database.
 */
final class LiveSelect
{
    private readonly Parser $parser;

    private readonly ?SelectStatement $select;

    public function __construct(string $sql)
    {
        $this->parser = new Parser($sql);
        $first = $this->parser->statements[0] ?? null;
        $this->select = count($this->parser->statements) === 1 && $first instanceof SelectStatement && $this->parser->errors === [] ? $first : null;
    }

    /**
     * Words of the statement that can be names, in small letters.
     *
     * @return list<string>
     */
    public function words(): array
    {
        $words = [];
        foreach ($this->parser->list->tokens as $token) {
            if (in_array($token->type, [Token::TYPE_NONE, Token::TYPE_SYMBOL, Token::TYPE_KEYWORD], true) && is_string($token->value)) {
                $words[] = mb_strtolower($token->value);
            }
        }

        return $words;
    }

    /**
     * Whether every column is wanted: a star that counts nothing and multiplies nothing.
     */
    public function wantsAll(): bool
    {
        $before = '';
        foreach ($this->parser->list->tokens as $token) {
            if (in_array($token->type, [Token::TYPE_WHITESPACE, Token::TYPE_COMMENT], true)) {
                continue;
            }
            $text = mb_strtolower((string) $token->token);
            if ($text === '*' && in_array($before, ['select', 'distinct', 'all', ',', '.'], true)) {
                return true;
            }
            $before = $text;
        }

        // "table x" gives all of it.
        return $this->select === null && preg_match('/^\s*table\b/i', (string) $this->parser->list->build($this->parser->list)) === 1;
    }

    /**
     * Conditions of which all must hold, on a table that stands once, in the outermost FROM.
     *
     * @param  list<string>  $columns  of the table
     * @return list<Wanted>|null null when nothing can be said of it
     */
    public function conditions(string $table, array $columns): ?array
    {
        $alias = $this->alias($table);
        if ($alias === null || $this->select === null) {
            return null;
        }
        $wanted = [];
        $text = '';
        $depth = 0;
        foreach ($this->select->where ?? [] as $condition) {
            if ($condition->isOperator && $depth === 0) {
                if (! in_array(strtoupper(trim($condition->expr)), ['AND', '&&'], true)) {
                    // Alternatives are looked at as a whole.
                    $whole = trim(implode(' ', array_map(static fn ($one): string => trim($one->expr), $this->select->where ?? [])));

                    return [$this->alternatives($whole, $alias, $columns) ?? new Wanted('', '', [], $whole)];
                }
                $wanted[] = $text;
                $text = '';

                continue;
            }
            $text .= ' '.$condition->expr;
            $bare = (string) preg_replace("/'(?:[^'\\\\]|\\\\.|'')*'|\"(?:[^\"\\\\]|\\\\.|\"\")*\"/s", '', $condition->expr);
            $depth += substr_count($bare, '(') - substr_count($bare, ')');
        }
        $wanted[] = $text;
        $conditions = [];
        foreach (array_filter(array_map(trim(...), $wanted), static fn (string $one): bool => $one !== '') as $one) {
            if ($this->isOfOthers($one, $alias, $columns)) {
                continue;
            }
            $conditions[] = $this->read($one, $alias, $columns) ?? $this->alternatives($one, $alias, $columns) ?? new Wanted('', '', [], $one);
        }

        return $conditions;
    }

    /**
     * Several conditions on one column, of which one is enough.
     *
     * @param  list<string>  $columns
     */
    private function alternatives(string $text, string $alias, array $columns): ?Wanted
    {
        $tokens = Lexer::read($text);
        while (count($tokens) > 2 && $tokens[0]->is('(') && self::closing($tokens) === count($tokens) - 1) {
            $tokens = array_slice($tokens, 1, -1);
        }
        $parts = [[]];
        $depth = 0;
        foreach ($tokens as $token) {
            $depth += $token->is('(') ? 1 : ($token->is(')') ? -1 : 0);
            if ($depth === 0 && $token->is('or', '||')) {
                $parts[] = [];
            } else {
                $parts[count($parts) - 1][] = $token;
            }
        }
        $any = [];
        foreach (count($parts) < 2 || in_array([], $parts, true) ? [] : $parts as $part) {
            $one = $this->read(substr($text, $part[0]->at, $part[count($part) - 1]->end() - $part[0]->at), $alias, $columns);
            if ($one === null || ($any[0]->column ?? $one->column) !== $one->column) {
                return null;
            }
            $any[] = $one;
        }
        if ($any === []) {
            return null;
        }
        $areEqual = array_filter($any, static fn (Wanted $one): bool => ! in_array($one->operator, ['=', 'in'], true)) === [];

        return $areEqual ? new Wanted($any[0]->column, 'in', array_merge(...array_map(static fn (Wanted $one): array => $one->values, $any)), $text) : new Wanted($any[0]->column, 'any', [], $text, $any);
    }

    /**
     * The number of the bracket that closes the first one.
     *
     * @param  list<\DeepSpring\Sql\Token>  $tokens
     */
    private static function closing(array $tokens): int
    {
        $depth = 0;
        foreach ($tokens as $number => $token) {
            $depth += $token->is('(') ? 1 : ($token->is(')') ? -1 : 0);
            if ($depth === 0) {
                return $number;
            }
        }

        return count($tokens);
    }

    public function hasOuterJoin(): bool
    {
        return array_filter($this->select->join ?? [], static fn ($join): bool => preg_match('/left|right|full|natural/i', (string) $join->type) === 1) !== [];
    }

    /**
     * How many rows are enough when nothing is done to them but to sort and cut them; null otherwise.
     *
     * @return array{int, list<array{string, bool}>}|null rows, and what they are sorted by
     */
    public function cut(string $table): ?array
    {
        $select = $this->select;
        $alias = $this->alias($table);
        if ($select === null || $alias === null || $select->limit === null || ($select->join ?? []) !== [] || count($select->from) !== 1 || ($select->group ?? []) !== [] || ($select->having ?? []) !== [] || $select->union !== [] || ! is_numeric($select->limit->rowCount) || ! is_numeric($select->limit->offset)) {
            return null;
        }
        $isPlain = array_filter($select->expr, static fn (Expression $one): bool => $one->function !== null || $one->subquery !== null || str_contains((string) $one->expr, '(')) === [];
        if (! $isPlain || preg_match('/\b(?:distinct|over|procedure)\b/i', implode(' ', $this->words())) === 1) {
            return null;
        }
        $order = [];
        foreach ($select->order ?? [] as $one) {
            if (preg_match('/^(?:`?'.preg_quote($alias, '/').'`?\.)?`?(\w+)`?$/Di', trim((string) $one->expr->expr), $part) !== 1) {
                return null;
            }
            $order[] = [$part[1], strtoupper((string) $one->type) === 'DESC'];
        }
        // An alias of the result could hide a column.
        $aliases = array_filter(array_map(static fn (Expression $one): string => mb_strtolower((string) $one->alias), $select->expr));

        return array_intersect(array_map(static fn (array $one): string => mb_strtolower($one[0]), $order), $aliases) !== [] ? null : [(int) $select->limit->rowCount + (int) $select->limit->offset, $order];
    }

    /**
     * The name by which the table goes; null when it stands elsewhere too, or not in the outermost FROM.
     */
    private function alias(string $table): ?string
    {
        if ($this->select === null || $this->select->union !== [] || $this->timesNamed($table) !== 1) {
            return null;
        }
        foreach ([...$this->select->from, ...array_map(static fn ($join): mixed => $join->expr, $this->select->join ?? [])] as $one) {
            if (strcasecmp((string) $one->table, $table) === 0 && $one->subquery === null) {
                return (string) ($one->alias ?: $one->table);
            }
        }

        return null;
    }

    /**
     * How often it is named other than in front of a column.
     */
    private function timesNamed(string $table): int
    {
        $times = 0;
        $tokens = array_values(array_filter($this->parser->list->tokens, static fn (Token $token): bool => ! in_array($token->type, [Token::TYPE_WHITESPACE, Token::TYPE_COMMENT], true)));
        foreach ($tokens as $place => $token) {
            $isName = is_string($token->value) && strcasecmp($token->value, $table) === 0 && in_array($token->type, [Token::TYPE_NONE, Token::TYPE_SYMBOL, Token::TYPE_KEYWORD], true);
            if ($isName && ($tokens[$place + 1]->token ?? '') !== '.') {
                $times++;
            }
        }

        return $times;
    }

    /**
     * Whether it compares a column of another table.
     *
     * @param  list<string>  $columns
     */
    private function isOfOthers(string $text, string $alias, array $columns): bool
    {
        if (preg_match('/^(?:`?(\w+)`?\s*\.\s*)?`?(\w+)`?\s*(?:=|<|>|!|\s(?:like|in|is|between|not)\b)/iu', $text, $part) !== 1) {
            return false;
        }

        return $part[1] !== '' ? strcasecmp($part[1], $alias) !== 0 : ($this->select->join ?? []) !== [] && ! in_array(mb_strtolower($part[2]), $columns, true);
    }

    /**
     * @param  list<string>  $columns
     */
    private function read(string $text, string $alias, array $columns): ?Wanted
    {
        $value = "(?:'(?:[^'\\\\\\\\]|'')*'|-?\\d+(?:\\.\\d+)?|true|false)";
        $name = '(?:`?(?<of>\w+)`?\s*\.\s*)?`?(?<column>\w+)`?';
        $patterns = [
            "~^$name\\s*(?<operator>=|<>|!=|<=|>=|<|>)\\s*(?<values>$value)$~Dsiu",
            "~^$name\\s+(?<operator>like)\\s+(?<values>'(?:[^'\\\\\\\\]|'')*')$~Dsiu",
            "~^$name\\s+(?<operator>in)\\s*\\(\\s*(?<values>$value(?:\\s*,\\s*$value)*)\\s*\\)$~Dsiu",
            "~^$name\\s+(?<operator>between)\\s+(?<values>$value\\s+and\\s+$value)$~Dsiu",
            "~^$name\\s+(?<operator>is\\s+null|is\\s+not\\s+null)(?<values>)$~Dsiu",
        ];
        foreach ($patterns as $pattern) {
            if (preg_match($pattern, $text, $part) !== 1) {
                continue;
            }
            if ($part['of'] !== '' && strcasecmp($part['of'], $alias) !== 0 || ! in_array(mb_strtolower($part['column']), $columns, true)) {
                return null;
            }
            preg_match_all("~$value~siu", $part['values'], $found);
            $values = array_map(static fn (string $one): string => str_starts_with($one, "'") ? str_replace("''", "'", substr($one, 1, -1)) : $one, $found[0]);

            return new Wanted(mb_strtolower($part['column']), (string) preg_replace('/\s+/', ' ', strtolower($part['operator'])), $values, $text);
        }

        return null;
    }
}
