<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

use DeepSpring\Sql\Lexer;

/**
 * Changes of a SELECT, one step at a time. A step changes the clauses it is about and no others.
 */
final readonly class SelectSteps
{
    public function __construct(private SelectText $select, private ReadTables $tables)
    {
    }

    /**
     * @param  array<string, string>  $step  what to do under `do`, and what that needs; `item` is a place, from 0 on
     * @param  array<string, string>  $types  of the columns of a table that is joined
     *
     * @throws CannotBuild
     */
    public function taken(array $step, array $types = []): SelectText
    {
        $item = (int) ($step['item'] ?? -1);
        [$column, $value] = [$step['column'] ?? '', $step['value'] ?? ''];

        $columns = new ColumnSteps($this->select);

        return match ($step['do'] ?? '') {
            'add-column' => $columns->add($this->tables->named($column), ColumnUse::Itself),
            'add-count' => $columns->add('*', ColumnUse::Count),
            'use-column' => $columns->use($item, ColumnUse::tryFrom($step['use'] ?? '') ?? ColumnUse::Itself, self::zone($step['zone'] ?? '')),
            'name-column' => $columns->name($item, $value),
            'drop-column' => $columns->drop($item),
            'move-column' => $columns->forward($item),
            'distinct' => $this->select->with('select', $this->items('select'), $value === '1'),
            'join' => (new JoinSteps($this->select, $this->tables))->add($step['table'] ?? '', $step['here'] ?? '', $step['there'] ?? '', $step['kind'] ?? 'join', $types),
            'drop-join' => (new JoinSteps($this->select, $this->tables))->drop($item),
            'add-condition' => $this->addCondition($column, self::comparison($step), $value),
            'change-condition' => $this->changeCondition($step['clause'] ?? '', $item, self::comparison($step), $value),
            'drop-condition' => $this->without(($step['clause'] ?? '') === 'having' ? 'having' : 'where', $item),
            'add-order' => $this->addOrder($column, ($step['down'] ?? '') === '1'),
            'turn-order' => $this->turnOrder($item),
            'drop-order' => $this->without('order', $item),
            'limit' => $this->limit($value),
            default => throw CannotBuild::because('This step is not known.'),
        };
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

    private function without(string $clause, int $item): SelectText
    {
        $items = $this->items($clause);
        isset($items[$item]) || throw CannotBuild::because('That is no longer there.');
        unset($items[$item]);

        return $this->select->with($clause, array_values($items));
    }

    private function addCondition(string $column, HowCompared $how, string $value): SelectText
    {
        foreach ($this->columns() as $one) {
            if ($one->isMeasure() && in_array($column, [$one->alias, $one->expression], true)) {
                $made = PickedCondition::made($one->alias ?? $one->expression, $how, $value, true);

                return $this->select->with('having', [...$this->items('having'), $made->text]);
            }
        }
        $column = $this->tables->named($column);

        return $this->select->with('where', [...self::bracketed($this->items('where')), PickedCondition::made($column, $how, $value, $this->tables->isNumber($column))->text]);
    }

    private function changeCondition(string $clause, int $item, HowCompared $how, string $value): SelectText
    {
        $clause = $clause === 'having' ? 'having' : 'where';
        $items = $this->items($clause);
        $was = PickedCondition::of($items[$item] ?? throw CannotBuild::because('That condition is no longer there.'));
        if ($was->column === null) {
            throw CannotBuild::because('This is only known as text. Change it there.');
        }
        if ($was->how === $how && $was->given() === $value) {
            return $this->select;
        }
        $items[$item] = PickedCondition::made($was->column, $how, $value, $clause === 'having' || $this->tables->isNumber($was->column))->text;

        return $this->select->with($clause, $items);
    }

    /**
     * Conditions of which one is enough stand in brackets beside another.
     *
     * @param  list<string>  $items
     * @return list<string>
     */
    private static function bracketed(array $items): array
    {
        if (count($items) !== 1) {
            return $items;
        }
        $depth = 0;
        foreach (Lexer::read($items[0]) as $token) {
            $depth += $token->is('(') ? 1 : ($token->is(')') ? -1 : 0);
            if ($depth === 0 && $token->is('or', 'xor', '||')) {
                return ["($items[0])"];
            }
        }

        return $items;
    }

    private function addOrder(string $column, bool $down): SelectText
    {
        $column = $this->named($column);
        ColumnSteps::canOrder($this->select, $column) || throw CannotBuild::because("Rows are counted together here, so they can be ordered by what is shown, and \"$column\" is not.");

        return $this->select->with('order', [...$this->items('order'), $column.($down ? ' desc' : '')]);
    }

    private function turnOrder(int $item): SelectText
    {
        $items = $this->items('order');
        $text = $items[$item] ?? throw CannotBuild::because('That is no longer there.');
        $items[$item] = preg_match('/^(.*\S)\s+desc$/isD', $text, $found) === 1 ? $found[1] : preg_replace('/\s+asc$/iD', '', $text).' desc';

        return $this->select->with('order', $items);
    }

    private function limit(string $rows): SelectText
    {
        if ($rows !== '' && preg_match('/^[1-9]\d{0,9}$/D', $rows) !== 1) {
            throw CannotBuild::because("\"$rows\" is no number of rows.");
        }

        return $this->select->with('limit', $rows === '' ? [] : [$rows]);
    }

    /**
     * What is sorted by: a column of the result by its name, otherwise one of a table.
     */
    private function named(string $column): string
    {
        foreach ($this->columns() as $one) {
            if (in_array($column, [$one->alias, $one->expression], true)) {
                return $column;
            }
        }

        return $this->tables->named($column);
    }

    /**
     * @param  array<string, string>  $step
     */
    private static function comparison(array $step): HowCompared
    {
        return HowCompared::tryFrom($step['how'] ?? '') ?? HowCompared::Equal;
    }

    private static function zone(string $zone): ?string
    {
        return $zone !== 'UTC' && in_array($zone, \DateTimeZone::listIdentifiers(), true) ? $zone : null;
    }
}
