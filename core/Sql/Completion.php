<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * What can be written at a place of a statement: after FROM tables, after JOIN also whole joins along known
 * columns, after ON conditions, after an alias and a dot its columns, and elsewhere columns of the tables
 * that the statement reads, wherever these are named.
 */
final class Completion
{
    private const MOST = 60;

    private const KEYWORDS = ['select', 'from', 'where', 'group by', 'order by', 'having', 'limit', 'join', 'left join', 'on', 'using', 'and', 'or', 'not', 'in', 'like', 'between', 'is null', 'is not null', 'as', 'with', 'union', 'union all', 'distinct', 'case', 'when', 'then', 'else', 'end', 'desc', 'asc', 'exists', 'over', 'partition by', 'interval', 'offset', 'null', 'true', 'false'];

    private const WANT_TABLES = ['from', 'join', 'straight_join', 'table'];

    /** Bytes before what is replaced. */
    public readonly int $from;

    /** @var list<Proposed> the likeliest first */
    public readonly array $proposed;

    private readonly string $typed;

    /** @var list<Token> before what is being typed */
    private readonly array $before;

    /** @var list<NamedTable> */
    private readonly array $named;

    /**
     * @param  int  $cursor  bytes before it
     */
    public function __construct(string $text, int $cursor, private readonly KnownNames $known)
    {
        $statement = StatementText::at($text, $cursor);
        $begins = $statement !== null && $statement->at <= $cursor ? $statement->at : 0;
        $start = substr($text, $begins, $cursor - $begins);
        $this->typed = preg_match('/[\w$\x80-\xff]*$/', $start, $word) === 1 ? $word[0] : '';
        $this->from = $cursor - strlen($this->typed);
        $this->before = Lexer::read(substr($start, 0, strlen($start) - strlen($this->typed)));
        $this->named = NamedTables::of($statement->sql ?? '');
        $last = $this->before === [] ? null : $this->before[count($this->before) - 1];
        $this->proposed = $this->isInText($start) || $last?->kind === TokenKind::Number && $this->typed === '' ? [] : $this->ranked($this->candidates($last));
    }

    /**
     * Whether a letter at the cursor would be part of a text or of a comment.
     */
    private function isInText(string $start): bool
    {
        $all = Lexer::read("{$start}x");
        $last = $all === [] ? null : $all[count($all) - 1];

        return $last === null || $last->end() !== strlen($start) + 1 || $last->kind === TokenKind::Text;
    }

    /**
     * @return list<Proposed>
     */
    private function candidates(?Token $last): array
    {
        if ($last?->is('.') === true) {
            return $this->columnsOf((string) ($this->before[count($this->before) - 2] ?? null)?->name());
        }
        if ($this->wantsTable($last)) {
            return [...($last?->is('join', 'straight_join') === true ? $this->joins() : []), ...$this->tables()];
        }
        if ($last?->is('on') === true) {
            return [...$this->conditions(), ...$this->columns()];
        }

        return [...$this->columns(), ...$this->functions(), ...array_map(static fn (string $word): Proposed => new Proposed($word, 'keyword'), self::KEYWORDS)];
    }

    private function wantsTable(?Token $last): bool
    {
        if ($last?->is(...self::WANT_TABLES) === true) {
            return true;
        }
        if ($last?->is(',') !== true) {
            return false;
        }
        // A comma in FROM: what stands before it names a table.
        $depth = 0;
        foreach (array_reverse($this->before) as $token) {
            $depth += $token->is(')') ? 1 : ($token->is('(') ? -1 : 0);
            if ($depth < 0 || $depth === 0 && $token->is('select', 'where', 'group', 'order', 'having', 'on', 'set', 'by')) {
                return false;
            }
            if ($depth === 0 && $token->is('from')) {
                return true;
            }
        }

        return false;
    }

    /**
     * @return list<Proposed>
     */
    private function tables(): array
    {
        $tables = $this->known->tables();

        return array_map(static fn (string $name, string $detail): Proposed => new Proposed($name, 'table', $detail), array_map(strval(...), array_keys($tables)), array_values($tables));
    }

    /**
     * A table that belongs to one that is read already, with the condition.
     *
     * @return list<Proposed>
     */
    private function joins(): array
    {
        $joins = [];
        foreach ($this->earlier() as $named) {
            foreach ($this->known->ties($named->name) as $tie) {
                $alias = TableAlias::of($tie->other, array_map(static fn (NamedTable $one): string => $one->alias, $this->named));
                $on = implode(' and ', array_map(static fn (array $pair): string => "$alias.$pair[1] = $named->alias.$pair[0]", $tie->pairs));
                $joins[] = new Proposed("$tie->other on $on", 'join', $tie->why, ($alias === $tie->other ? $tie->other : "$tie->other $alias")." on $on");
            }
        }

        return $joins;
    }

    /**
     * Conditions between the table that was joined last and those before.
     *
     * @return list<Proposed>
     */
    private function conditions(): array
    {
        $earlier = $this->earlier();
        $last = array_pop($earlier);
        $conditions = [];
        foreach ($earlier as $named) {
            foreach ($this->known->ties($named->name) as $tie) {
                if ($last !== null && strcasecmp($tie->other, $last->name) === 0) {
                    $on = implode(' and ', array_map(static fn (array $pair): string => "$last->alias.$pair[1] = $named->alias.$pair[0]", $tie->pairs));
                    $conditions[] = new Proposed($on, 'join', $tie->why);
                }
            }
        }

        return $conditions;
    }

    /**
     * Tables that are named before the cursor.
     *
     * @return list<NamedTable>
     */
    private function earlier(): array
    {
        $until = $this->before === [] ? 0 : $this->before[count($this->before) - 1]->end();

        return array_values(array_filter($this->named, static fn (NamedTable $one): bool => $one->at < $until));
    }

    /**
     * @return list<Proposed>
     */
    private function columnsOf(string $alias): array
    {
        foreach ($this->named as $named) {
            if (strcasecmp($named->alias, $alias) === 0 || strcasecmp($named->name, $alias) === 0) {
                $columns = $this->known->columns($named->name);

                return array_map(static fn (string $name, string $type): Proposed => new Proposed($name, 'column', $type), array_map(strval(...), array_keys($columns)), array_values($columns));
            }
        }

        return [];
    }

    /**
     * Those of all tables that the statement reads, with their alias where several have one of that name.
     *
     * @return list<Proposed>
     */
    private function columns(): array
    {
        $count = [];
        $found = [];
        foreach ($this->named as $named) {
            foreach ($this->known->columns($named->name) as $name => $type) {
                $count[strtolower((string) $name)] = ($count[strtolower((string) $name)] ?? 0) + 1;
                $found[] = [$named, (string) $name, $type];
            }
        }
        $several = count($this->named) > 1;

        return [
            ...array_map(static fn (array $one): Proposed => new Proposed($one[1], 'column', $several ? "$one[2], {$one[0]->name}" : $one[2], $count[strtolower($one[1])] > 1 ? "{$one[0]->alias}.$one[1]" : null), $found),
            ...array_map(static fn (NamedTable $one): Proposed => new Proposed($one->alias, 'table', $one->alias === $one->name ? '' : $one->name, "$one->alias."), $several ? $this->named : []),
        ];
    }

    /**
     * @return list<Proposed>
     */
    private function functions(): array
    {
        return array_values(array_map(static fn (SqlFunction $one): Proposed => new Proposed($one->name, 'function', $one->says, str_ends_with($one->form, '()') ? "$one->name()" : "$one->name("), SqlFunctions::all()));
    }

    /**
     * What begins as is typed, then what has a word that does, then what has it somewhere.
     *
     * @param  list<Proposed>  $all
     * @return list<Proposed>
     */
    private function ranked(array $all): array
    {
        $typed = strtolower($this->typed);
        $ranks = [[], [], []];
        foreach ($all as $one) {
            $label = strtolower($one->label);
            $at = $typed === '' ? 0 : strpos($label, $typed);
            if ($at === false || $at > 0 && strlen($typed) < 2 || $at > 0 && $one->kind === 'keyword') {
                continue;
            }
            $rank = $at === 0 ? 0 : (preg_match('/(?<![a-z0-9])'.preg_quote($typed, '/').'/', $label) === 1 ? 1 : 2);
            $ranks[$rank][] = $one;
        }

        return array_slice(array_merge(...$ranks), 0, self::MOST);
    }
}
