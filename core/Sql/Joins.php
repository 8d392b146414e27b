<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * The joins in the outermost part of a statement: equalities between columns of two tables, after ON, in
 * USING, or in WHERE. What is compared in another way, or with more than a column, is no join here.
 */
final class Joins
{
    private const JOIN = ['join', 'straight_join'];

    private const ENDS = ['where', 'group', 'having', 'order', 'limit', 'union', 'except', 'intersect', 'window', 'for', 'procedure'];

    /** @var list<NamedTable> of the outermost FROM */
    private array $tables = [];

    /** @var array<int, array{NamedTable, NamedTable, list<array{string, string}>, bool, bool}> */
    private array $found = [];

    private function __construct(private readonly string $sql, private readonly KnownNames $known)
    {
        $this->read();
    }

    /**
     * @return list<JoinedPair>
     */
    public static function of(string $sql, KnownNames $known): array
    {
        return array_values(array_map(static fn (array $one): JoinedPair => new JoinedPair(...$one), (new self($sql, $known))->found));
    }

    private function read(): void
    {
        $named = [];
        foreach (NamedTables::of($this->sql) as $one) {
            $named[$one->at] = $one;
        }
        $tokens = Lexer::read($this->sql);
        $depth = 0;
        $kind = $next = 'join';
        $condition = [];
        $where = false;
        foreach ($tokens as $number => $token) {
            $depth += $token->is('(') ? 1 : ($token->is(')') ? -1 : 0);
            if ($depth > 0 || $token->is(')')) {
                $condition[] = $token;

                continue;
            }
            if ($token->is('union', 'except', 'intersect', ';')) {
                // Each part of them is an answer of its own; the first one is looked at.
                break;
            }
            if ($token->is('left', 'right', 'inner', 'cross', 'natural', 'outer') && ! ($tokens[$number + 1] ?? $token)->is('(')) {
                $next = $token->is('left', 'right') ? strtolower($token->text) : $next;

                continue;
            }
            if ($token->is(...self::JOIN, ...self::ENDS) || $token->is(',') && ! $where) {
                $this->conditions($condition, $where ? 'join' : $kind);
                [$kind, $next, $condition, $where] = [$next, 'join', [], $token->is('where')];
            } elseif (isset($named[$token->at])) {
                $this->tables[] = $named[$token->at];
                $condition = [];
            } else {
                $condition[] = $token;
            }
        }
        $this->conditions($condition, $where ? 'join' : $kind);
    }

    /**
     * @param  list<Token>  $tokens
     */
    private function conditions(array $tokens, string $kind): void
    {
        $right = $this->tables === [] ? null : $this->tables[count($this->tables) - 1];
        foreach ($tokens as $number => $token) {
            if ($token->is('using') && $right !== null) {
                $this->using(array_slice($tokens, $number + 1), $right, $kind);

                return;
            }
        }
        $part = [];
        $depth = 0;
        foreach ([...$tokens, null] as $token) {
            $depth += $token?->is('(') === true ? 1 : ($token?->is(')') === true ? -1 : 0);
            if ($token?->is('or', 'xor') === true && $depth === 0) {
                // One of several conditions is enough, so none of them has to hold.
                return;
            }
            if ($token === null || $depth === 0 && $token->is('and', '&&', 'on')) {
                $this->equality($part, $kind);
                $part = [];
            } else {
                $part[] = $token;
            }
        }
    }

    /**
     * @param  list<Token>  $tokens
     */
    private function using(array $tokens, NamedTable $right, string $kind): void
    {
        foreach ($tokens as $token) {
            $name = $token->name();
            foreach (array_reverse(array_slice($this->tables, 0, -1)) as $left) {
                if ($name !== null && $this->has($left, $name)) {
                    $this->add($left, $name, $right, $name, $kind);

                    break;
                }
            }
        }
    }

    /**
     * @param  list<Token>  $part
     */
    private function equality(array $part, string $kind): void
    {
        foreach ($part as $number => $token) {
            if ($token->is('=')) {
                $left = $this->column(array_slice($part, 0, $number));
                $right = $this->column(array_slice($part, $number + 1));
                if ($left !== null && $right !== null && $left[0]->at !== $right[0]->at) {
                    [$first, $second] = $left[0]->at < $right[0]->at ? [$left, $right] : [$right, $left];
                    $this->add($first[0], $first[1], $second[0], $second[1], $kind);
                }

                return;
            }
        }
    }

    /**
     * @param  list<Token>  $tokens
     * @return array{NamedTable, string}|null
     */
    private function column(array $tokens): ?array
    {
        $name = $tokens === [] ? null : $tokens[count($tokens) - 1]->name();
        if ($name === null || ! (count($tokens) === 1 || count($tokens) === 3 && $tokens[1]->is('.'))) {
            return null;
        }
        $alias = count($tokens) === 3 ? $tokens[0]->name() : null;
        $owners = array_values(array_filter($this->tables, fn (NamedTable $one): bool => $alias === null ? $this->has($one, $name) : strcasecmp($one->alias, $alias) === 0));

        return count($owners) === 1 ? [$owners[0], $name] : null;
    }

    private function has(NamedTable $table, string $column): bool
    {
        return in_array(strtolower($column), array_map(static fn (int|string $one): string => strtolower((string) $one), array_keys($this->known->columns($table->name))), true);
    }

    private function add(NamedTable $left, string $here, NamedTable $right, string $there, string $kind): void
    {
        foreach ($this->found as $number => [$one, $other]) {
            if ($one->at === $left->at && $other->at === $right->at) {
                $this->found[$number][2][] = [$here, $there];

                return;
            }
        }
        $this->found[] = [$left, $right, [[$here, $there]], $kind === 'left', $kind === 'right'];
    }
}
