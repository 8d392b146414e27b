<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

use DeepSpring\Sql\Lexer;
use DeepSpring\Sql\Token;
use DeepSpring\Sql\TokenKind;

/**
 * One plain SELECT as pieces of its text (SQL:2016 part 2, 7.16 <query specification>): every clause with what stands
 * between its commas or ANDs, each piece as it was written. What is not changed is written back byte for
 * byte, so nothing depends on whether a piece is understood.
 */
final readonly class SelectText
{
    /** In the order in which they have to stand. */
    public const CLAUSES = ['select', 'from', 'where', 'group', 'having', 'window', 'order', 'limit'];

    private const KEYWORDS = ['select' => 'select', 'from' => 'from', 'where' => 'where', 'group' => 'group by', 'having' => 'having', 'window' => 'window', 'order' => 'order by', 'limit' => 'limit'];

    private const JOINING = ['join', 'straight_join', 'inner', 'cross', 'left', 'right', 'natural'];

    /**
     * @param  array<string, list<string>>  $items  pieces of each clause that is there
     * @param  array<string, string>  $raw  each clause as it is written, with what stands before it
     * @param  list<string>  $remarked  clauses with a comment in them
     */
    private function __construct(public array $items, private array $raw, private array $remarked, public bool $distinct, private string $before, private string $after)
    {
    }

    /**
     * @throws CannotBuild when it is something else than one plain SELECT
     */
    public static function of(string $sql): self
    {
        $tokens = Lexer::read($sql);
        $starts = self::starts($tokens);
        $distinct = ($tokens[1] ?? null)?->is('distinct') === true;
        $word = $tokens[1] ?? null;
        if ($word?->is('all', 'distinctrow', 'high_priority', 'sql_cache', 'sql_no_cache', 'sql_calc_found_rows', 'sql_small_result', 'sql_big_result', 'sql_buffer_result', 'straight_join') === true) {
            throw CannotBuild::because("SELECT goes on with \"$word->text\", which cannot be shown here.");
        }
        $places = array_keys($starts);
        $items = $raw = $remarked = [];
        foreach ($places as $number => $at) {
            $clause = $starts[$at];
            $words = match ($clause) {
                'group', 'order' => 2, 'select' => $distinct ? 2 : 1, default => 1,
            };
            $until = $places[$number + 1] ?? count($tokens);
            $own = array_slice($tokens, $at + $words, $until - $at - $words);
            $items[$clause] = self::items($clause, $own, $sql);
            $from = ($tokens[$at - 1] ?? null)?->end() ?? $tokens[0]->at;
            $raw[$clause] = substr($sql, $from, $tokens[$until - 1]->end() - $from);
            if (self::hasComment($raw[$clause])) {
                $remarked[] = $clause;
            }
        }

        return new self($items, $raw, $remarked, $distinct, substr($sql, 0, $tokens[0]->at), substr($sql, $tokens[count($tokens) - 1]->end()));
    }

    /**
     * What a clause is to consist of; none takes it away.
     *
     * @param  list<string>  $items
     *
     * @throws CannotBuild where a comment would be lost
     */
    public function with(string $clause, array $items, ?bool $distinct = null): self
    {
        $distinct ??= $this->distinct;
        if ($items === ($this->items[$clause] ?? []) && $distinct === $this->distinct) {
            return $this;
        }
        if (in_array($clause, $this->remarked, true)) {
            throw CannotBuild::because('A comment stands in '.strtoupper(self::KEYWORDS[$clause]).', which would be lost. Change this in the text.');
        }
        $all = [...$this->items, $clause => $items];
        $raw = [...$this->raw, $clause => ($clause === 'select' ? '' : "\n").self::written($clause, $items, $distinct)];
        if ($items === []) {
            unset($all[$clause], $raw[$clause]);
        }

        return new self($all, $raw, $this->remarked, $distinct, $this->before, $this->after);
    }

    public function sql(): string
    {
        $sql = $this->before;
        foreach (self::CLAUSES as $clause) {
            $sql .= $this->raw[$clause] ?? '';
        }

        return $sql.$this->after;
    }

    /**
     * @param  list<string>  $items
     */
    private static function written(string $clause, array $items, bool $distinct): string
    {
        $word = self::KEYWORDS[$clause].($clause === 'select' && $distinct ? ' distinct' : '');
        if ($clause === 'from') {
            return "$word ".array_shift($items).implode('', array_map(static fn (string $one): string => str_starts_with($one, ',') ? $one : "\n$one", $items));
        }
        if ($clause === 'where' || $clause === 'having') {
            return "$word ".implode("\n  and ", $items);
        }
        $line = implode(', ', $items);

        return "$word ".(strlen($line) <= 90 ? $line : implode(",\n".str_repeat(' ', strlen($word) + 1), $items));
    }

    /**
     * @param  list<Token>  $tokens
     * @return array<int, string> number of a token → the clause that begins there
     *
     * @throws CannotBuild
     */
    private static function starts(array $tokens): array
    {
        if ($tokens === [] || ! $tokens[0]->is('select')) {
            throw CannotBuild::because($tokens === [] ? 'Nothing is written yet.' : 'It begins with "'.$tokens[0]->text.'". Only a plain SELECT can be shown here.');
        }
        $starts = [0 => 'select'];
        $depth = $cases = 0;
        foreach ($tokens as $number => $token) {
            $depth += $token->is('(') ? 1 : ($token->is(')') ? -1 : 0);
            if ($number === 0 || $depth > 0 || $token->is(')') || $tokens[$number - 1]->is('.')) {
                continue;
            }
            $cases += $token->is('case') ? 1 : ($token->is('end') && $cases > 0 ? -1 : 0);
            if ($token->is('union', 'except', 'intersect', 'minus')) {
                throw CannotBuild::because('Several SELECTs are put together with "'.$token->text.'". Only one can be shown here.');
            }
            if ($token->is('into', 'procedure', 'for', 'lock', 'select', 'with')) {
                throw CannotBuild::because("It has \"$token->text\", which cannot be shown here.");
            }
            $clause = strtolower($token->text);
            if ($token->kind === TokenKind::Word && in_array($clause, self::CLAUSES, true) && ($clause !== 'group' && $clause !== 'order' || ($tokens[$number + 1] ?? null)?->is('by') === true)) {
                self::inOrder($starts, $clause);
                $starts[$number] = $clause;
            }
        }

        return $depth === 0 && $cases === 0 ? $starts : throw CannotBuild::because($depth === 0 ? 'A CASE in it has no END yet.' : 'A bracket in it is not closed, or closed twice.');
    }

    /**
     * @param  array<int, string>  $starts
     *
     * @throws CannotBuild
     */
    private static function inOrder(array $starts, string $clause): void
    {
        $last = end($starts);
        if (array_search($clause, self::CLAUSES, true) <= array_search($last, self::CLAUSES, true)) {
            throw CannotBuild::because(strtoupper(self::KEYWORDS[$clause]).' stands where it cannot.');
        }
    }

    /**
     * @param  list<Token>  $tokens
     * @return list<string>
     *
     * @throws CannotBuild where something is missing
     */
    private static function items(string $clause, array $tokens, string $sql): array
    {
        $parts = match ($clause) {
            'where', 'having' => self::conditions($tokens),
            'from' => self::tables($tokens),
            'limit', 'window' => [$tokens],
            default => self::split($tokens, static fn (Token $token): bool => $token->is(',')),
        };
        $items = [];
        foreach ($parts as $part) {
            if ($part === [] || $clause === 'from' && count($part) === 1 && $part[0]->is(',', ...self::JOINING)) {
                throw CannotBuild::because('After '.strtoupper(self::KEYWORDS[$clause]).' something is missing.');
            }
            $items[] = substr($sql, $part[0]->at, $part[count($part) - 1]->end() - $part[0]->at);
        }

        return $items;
    }

    /**
     * What is joined by AND; all of it where OR stands beside that.
     *
     * @param  list<Token>  $tokens
     * @return list<list<Token>>
     */
    private static function conditions(array $tokens): array
    {
        $parts = [[]];
        $depth = $cases = $between = 0;
        foreach ($tokens as $token) {
            $depth += $token->is('(') ? 1 : ($token->is(')') ? -1 : 0);
            $cases += $token->is('case') ? 1 : ($token->is('end') ? -1 : 0);
            if ($depth === 0 && $cases === 0) {
                if ($token->is('or', 'xor', '||')) {
                    return [$tokens];
                }
                $between += $token->is('between') ? 1 : 0;
                if ($token->is('and', '&&')) {
                    if ($between === 0) {
                        $parts[] = [];

                        continue;
                    }
                    $between--;
                }
            }
            $parts[count($parts) - 1][] = $token;
        }

        return $parts;
    }

    /**
     * The first table, and what is joined to it, each with the words that join it.
     *
     * @param  list<Token>  $tokens
     * @return list<list<Token>>
     */
    private static function tables(array $tokens): array
    {
        $parts = [[]];
        $depth = 0;
        foreach ($tokens as $number => $token) {
            $before = $tokens[$number - 1] ?? null;
            // LEFT( and RIGHT( are functions.
            $isFunction = $token->is('left', 'right') && ($tokens[$number + 1] ?? $token)->is('(');
            if ($depth === 0 && ($token->is(',') || $token->is(...self::JOINING) && ! $isFunction && $before?->is('.', 'outer', ...self::JOINING) !== true)) {
                $parts[] = [];
            }
            $depth += $token->is('(') ? 1 : ($token->is(')') ? -1 : 0);
            $parts[count($parts) - 1][] = $token;
        }

        return $parts;
    }

    /**
     * @param  list<Token>  $tokens
     * @param  \Closure(Token): bool  $ends
     * @return list<list<Token>>
     */
    private static function split(array $tokens, \Closure $ends): array
    {
        $parts = [[]];
        $depth = 0;
        foreach ($tokens as $token) {
            $depth += $token->is('(') ? 1 : ($token->is(')') ? -1 : 0);
            if ($depth === 0 && $ends($token)) {
                $parts[] = [];
            } else {
                $parts[count($parts) - 1][] = $token;
            }
        }

        return $parts;
    }

    private static function hasComment(string $text): bool
    {
        $bare = preg_replace('/[\s\x{a0}]+/', '', $text) ?? '';
        $said = implode('', array_map(static fn (Token $one): string => preg_replace('/[\s\x{a0}]+/', '', $one->text) ?? '', Lexer::read($text)));

        return $bare !== $said;
    }
}
