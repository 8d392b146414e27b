<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * The tables that a statement reads: what stands after FROM and JOIN, without the names that WITH gives
 * where these are known (SQL:1999, "with clause": a name is known after its own query, and within it only
 * where that is recursive).
 */
final class NamedTables
{
    private const ENDS = ['where', 'group', 'having', 'order', 'limit', 'union', 'except', 'intersect', 'window', 'procedure', 'for', 'into', 'offset', 'fetch'];

    /** What can follow a table that is no alias of it. */
    private const NO_ALIAS = [...self::ENDS, 'join', 'inner', 'left', 'right', 'cross', 'natural', 'straight_join', 'on', 'using', 'use', 'force', 'ignore', 'partition', 'as', 'select', 'lock'];

    /** @var list<NamedTable> */
    private array $found = [];

    /** @var list<array{select: bool, from: bool, wants: bool, with: bool, recursive: bool, pending: string|null, known: array<string, true>}> one for each bracket that is open */
    private array $frames = [];

    /** @var list<Token> */
    private readonly array $tokens;

    private function __construct(string $sql)
    {
        $this->tokens = Lexer::read($sql);
        $this->open();
        for ($at = 0; $at < count($this->tokens); $at++) {
            $at = $this->step($at);
        }
    }

    /**
     * @return list<NamedTable> in the order of the text
     */
    public static function of(string $sql): array
    {
        return (new self($sql))->found;
    }

    /**
     * @return list<string> each once, as they are written
     */
    public static function names(string $sql): array
    {
        return array_values(array_unique(array_map(static fn (NamedTable $one): string => $one->name, self::of($sql))));
    }

    private function open(bool $wants = false): void
    {
        $this->frames[] = ['select' => false, 'from' => false, 'wants' => $wants, 'with' => false, 'recursive' => false, 'pending' => null, 'known' => []];
    }

    /**
     * @return int the last token that was taken
     */
    private function step(int $at): int
    {
        $token = $this->tokens[$at];
        $frame = &$this->frames[count($this->frames) - 1];
        if ($token->is('(')) {
            $wants = $frame['wants'];
            if ($frame['with'] && $frame['pending'] !== null && $frame['recursive']) {
                $frame['known'][strtolower($frame['pending'])] = true;
            }
            $this->open($wants);

            return $at;
        }
        if ($token->is(')')) {
            $this->close();

            return $at;
        }
        if ($frame['wants'] && $token->name() !== null && ! $token->is('select', 'with', 'values', 'lateral', 'only')) {
            return $this->table($at);
        }
        $this->keyword($token, $at);

        return $at;
    }

    private function close(): void
    {
        if (count($this->frames) > 1) {
            array_pop($this->frames);
        }
        $frame = &$this->frames[count($this->frames) - 1];
        $frame['wants'] = false;
    }

    private function keyword(Token $token, int $at): void
    {
        $frame = &$this->frames[count($this->frames) - 1];
        if ($token->is('with') && ! $frame['select']) {
            [$frame['with'], $frame['wants']] = [true, false];
        } elseif ($token->is('recursive') && $frame['with']) {
            $frame['recursive'] = true;
        } elseif ($token->is('select')) {
            $this->named();
            [$frame['select'], $frame['from'], $frame['wants'], $frame['with']] = [true, false, false, false];
        } elseif ($token->is('from') && $frame['select'] || $token->is('join', 'straight_join') && $frame['from'] || $token->is('table') && ! $frame['select'] && ! $frame['from']) {
            [$frame['from'], $frame['wants']] = [true, true];
        } elseif ($token->is(',')) {
            $this->named();
            $frame['wants'] = $frame['from'];
        } elseif ($token->is(...self::ENDS)) {
            $frame['from'] = false;
        } elseif ($token->is(';')) {
            $this->frames = [];
            $this->open();
        } elseif ($frame['with'] && $token->name() !== null && ! $token->is('as') && $frame['pending'] === null && ($this->tokens[$at + 1] ?? null)?->is('as', '(') === true) {
            $frame['pending'] = $token->name();
        }
    }

    /**
     * A name that WITH gives is known from after its query on.
     */
    private function named(): void
    {
        $frame = &$this->frames[count($this->frames) - 1];
        if ($frame['pending'] !== null) {
            $frame['known'][strtolower($frame['pending'])] = true;
            $frame['pending'] = null;
        }
    }

    private function table(int $at): int
    {
        $frame = &$this->frames[count($this->frames) - 1];
        [$frame['wants'], $frame['from']] = [false, true];
        $schema = null;
        $token = $this->tokens[$at];
        while (($this->tokens[$at + 1] ?? null)?->is('.') === true && ($this->tokens[$at + 2] ?? null)?->name() !== null) {
            $schema = $token->name();
            $token = $this->tokens[$at += 2];
        }
        $next = $this->tokens[$at + 1] ?? null;
        if ($next?->is('(') === true) {
            // A function that gives rows, like JSON_TABLE.
            return $at;
        }
        $name = (string) $token->name();
        $alias = $name;
        $after = $next?->is('as') === true ? $this->tokens[$at + 2] ?? null : $next;
        if ($after?->name() !== null && ! $after->is(...self::NO_ALIAS)) {
            $alias = (string) $after->name();
            $at += $next === $after ? 1 : 2;
        }
        if ($schema !== null || ! $this->isKnown($name)) {
            $this->found[] = new NamedTable($name, $alias, $token->at, $schema);
        }

        return $at;
    }

    private function isKnown(string $name): bool
    {
        foreach ($this->frames as $frame) {
            if (isset($frame['known'][strtolower($name)])) {
                return true;
            }
        }

        return false;
    }
}
