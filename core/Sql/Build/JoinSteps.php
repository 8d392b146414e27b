<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

use DeepSpring\Sql\Lexer;
use DeepSpring\Sql\NamedTables;
use DeepSpring\Sql\TableAlias;
use DeepSpring\Sql\Token;
use DeepSpring\Sql\TokenKind;

/**
 * Which tables a SELECT reads.
 */
final readonly class JoinSteps
{
    public function __construct(private SelectText $select, private ReadTables $tables)
    {
    }

    /**
     * @param  array<string, string>  $types
     */
    public function add(string $table, string $here, string $there, string $kind, array $types): SelectText
    {
        $here = $this->tables->named($here);
        isset($types[$there]) || throw CannotBuild::because("$table has no column \"$there\".");
        $select = $this->qualified($types);
        $alias = TableAlias::of($table, $this->tables->aliases());
        if (! str_contains($here, '.')) {
            $here = "{$this->tables->owners($here)[0]->alias}.$here";
        }

        return $select->with('from', [...$select->items['from'] ?? [], ($kind === 'left join' ? 'left join' : 'join')." $table $alias on $alias.$there = $here"]);
    }

    /**
     * Once there is a second table, columns that both have are named with their table.
     *
     * @param  array<string, string>  $types
     *
     * @throws CannotBuild where it cannot be said whose a name is
     */
    private function qualified(array $types): SelectText
    {
        $select = $this->select;
        $given = array_filter(array_map(static fn (PickedColumn $one): ?string => $one->alias === null ? null : strtolower($one->alias), $this->columns()));
        foreach (['select', 'where', 'group', 'having', 'order'] as $clause) {
            $items = [];
            foreach ($this->items($clause) as $item) {
                $items[] = $this->qualifiedItem($item, array_diff_key($types, $clause === 'select' || $clause === 'where' ? [] : array_flip($given)), $clause);
            }
            $select = $select->with($clause, $items);
        }

        foreach (array_slice($this->items('from'), 1) as $item) {
            $this->qualifiedItem($item, $types, 'from') === $item || throw CannotBuild::because("It cannot be said which columns \"$item\" would mean beside another table. Write the join in the text.");
        }

        return $select;
    }

    /**
     * @param  array<string, string>  $types
     */
    private function qualifiedItem(string $item, array $types, string $clause): string
    {
        $tokens = Lexer::read($item);
        $alias = $clause === 'select' ? PickedColumn::of($item)->alias : null;
        $end = $alias === null ? count($tokens) : count($tokens) - 1;
        $has = array_filter($tokens, static fn (Token $one): bool => $one->is('select')) !== [];
        for ($number = $end - 1; $number >= 0; $number--) {
            $name = $tokens[$number]->name();
            $owners = $name === null || ($tokens[$number - 1] ?? null)?->is('.') === true || ($tokens[$number + 1] ?? null)?->is('.', '(') === true || ($tokens[$number - 1] ?? null)?->kind === TokenKind::Number ? [] : $this->tables->owners($name);
            if ($owners !== [] && isset($types[strtolower((string) $name)])) {
                $has && throw CannotBuild::because("Both tables have a column \"$name\", and it cannot be said which one a query within means. Write the join in the text.");
                $item = substr_replace($item, "{$owners[0]->alias}.", $tokens[$number]->at, 0);
            }
        }

        return $item;
    }

    public function drop(int $item): SelectText
    {
        $from = $this->items('from');
        isset($from[$item]) && $item > 0 || throw CannotBuild::because($item === 0 ? 'The first table stays: begin anew for another one.' : 'That table is no longer there.');
        $gone = NamedTables::of("select 1 from x {$from[$item]}")[1] ?? throw CannotBuild::because('This is only known as text. Change it there.');
        unset($from[$item]);
        foreach ([...array_diff_key($this->select->items, ['from' => 1, 'limit' => 1]), 'from' => array_values($from)] as $items) {
            foreach ($items as $text) {
                if (preg_match('/(?<![\w`.])`?'.preg_quote($gone->alias, '/').'`?\s*\./i', $text) === 1 || $this->namesOf($gone->alias, $text)) {
                    throw CannotBuild::because("$gone->name is used by \"$text\". Take that away first.");
                }
            }
        }

        return $this->select->with('from', array_values($from));
    }

    /**
     * Whether a text names a column that only this table has.
     */
    private function namesOf(string $alias, string $text): bool
    {
        foreach (Lexer::read($text) as $token) {
            $owners = $token->name() === null ? [] : $this->tables->owners((string) $token->name());
            if (count($owners) === 1 && strcasecmp($owners[0]->alias, $alias) === 0) {
                return true;
            }
        }

        return false;
    }

    /**
     * @return list<string>
     */
    private function items(string $clause): array
    {
        return $this->select->items[$clause] ?? [];
    }

    /**
     * @return list<PickedColumn>
     */
    private function columns(): array
    {
        return array_map(PickedColumn::of(...), $this->items('select'));
    }
}
