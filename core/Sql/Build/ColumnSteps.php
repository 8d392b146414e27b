<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

use DeepSpring\Sql\Lexer;
use DeepSpring\Value\SafeNames;

/**
 * What happens to the columns of a SELECT, with GROUP BY behind them.
 */
final readonly class ColumnSteps
{
    public function __construct(private SelectText $select)
    {
    }

    public function add(string $column, ColumnUse $use): SelectText
    {
        return $this->grouped([...$this->columns(), PickedColumn::made($column, $use, null, $use->nameFor($column))]);
    }

    public function use(int $item, ColumnUse $use, ?string $zone): SelectText
    {
        $columns = $this->columns();
        $was = $columns[$item] ?? throw CannotBuild::because('That column is no longer there.');
        if ($was->column === null || $was->isEverything()) {
            throw CannotBuild::because('This is only known as text. Change it there.');
        }
        $bare = PickedColumn::bare($was->column);
        $isGiven = $was->alias !== null && $was->alias !== $was->use?->nameFor($bare);
        $columns[$item] = PickedColumn::made($was->column, $use, $zone, $isGiven ? $was->alias : $use->nameFor($bare));

        return $this->grouped($columns);
    }

    public function name(int $item, string $name): SelectText
    {
        $columns = $this->columns();
        $was = $columns[$item] ?? throw CannotBuild::because('That column is no longer there.');
        if ($name !== '' && preg_match('/^[a-z_][a-z0-9_]{0,63}$/iD', $name) !== 1) {
            throw CannotBuild::because("\"$name\" cannot be a name here: use letters, digits and underscores, with no digit first.");
        }
        $items = $this->items('select');
        $items[$item] = $was->expression.($name === '' ? '' : ' as '.(strtolower($name) === SafeNames::clean($name) ? $name : "`$name`"));

        return $this->renamed($was, $name === '' ? $was->expression : $name)->with('select', array_values($items));
    }

    /**
     * What named a column of the result by its old name.
     */
    private function renamed(PickedColumn $was, string $name): SelectText
    {
        $select = $this->select;
        if ($was->alias !== null) {
            foreach (['group', 'having', 'order'] as $clause) {
                $select = $select->with($clause, array_map(fn (string $item): string => self::replaced($item, (string) $was->alias, $name), $this->items($clause)));
            }
        }

        return $select;
    }

    /**
     * A place further to the front.
     */
    public function forward(int $item): SelectText
    {
        $items = $this->items('select');
        if ($item > 0 && isset($items[$item])) {
            $items[$item - 1] !== '*' || throw CannotBuild::because('"*" has to stand first.');
            [$items[$item - 1], $items[$item]] = [$items[$item], $items[$item - 1]];
        }

        return $this->select->with('select', array_values($items));
    }

    public function drop(int $item): SelectText
    {
        $columns = $this->columns();
        $gone = $columns[$item] ?? throw CannotBuild::because('That column is no longer there.');
        foreach ($gone->alias === null ? [] : ['having' => 'a condition', 'order' => 'the order'] as $clause => $said) {
            foreach ($this->items($clause) as $text) {
                if (self::replaced($text, (string) $gone->alias, '') !== $text) {
                    throw CannotBuild::because("\"$gone->alias\" is used by $said: \"$text\". Take that away first.");
                }
            }
        }
        unset($columns[$item]);

        return $this->grouped($columns === [] ? [PickedColumn::of('*')] : array_values($columns));
    }

    /**
     * GROUP BY follows what is shown: once there is a measure, it has all that is none. What stands there
     * beside that stays.
     *
     * @param  list<PickedColumn>  $columns
     */
    private function grouped(array $columns): SelectText
    {
        $before = $this->columns();
        $measures = array_filter($columns, static fn (PickedColumn $one): bool => $one->isMeasure());
        if ($measures !== [] && array_filter($before, static fn (PickedColumn $one): bool => $one->isMeasure()) === []) {
            $columns = array_values(array_filter($columns, static fn (PickedColumn $one): bool => ! $one->isEverything()));
        }
        $group = $this->items('group');
        $numbers = array_filter($group, static fn (string $one): bool => ctype_digit($one));
        if ($numbers !== []) {
            throw CannotBuild::because('GROUP BY counts columns ('.implode(', ', $numbers).'), so none can be added or taken away here. Write their names there first.');
        }
        $had = array_filter($before, static fn (PickedColumn $one): bool => $one->isMeasure()) !== [] || $group !== [];
        $own = static fn (PickedColumn $one): array => array_map(PickedColumn::plain(...), array_filter([$one->expression, $one->alias]));
        $stay = $had ? array_values(array_filter($group, static function (string $text) use ($before, $columns, $own): bool {
            $is = static fn (PickedColumn $one): bool => in_array(PickedColumn::plain($text), $own($one), true);

            return array_filter($before, $is) === [] || array_filter($columns, static fn (PickedColumn $one): bool => ! $one->isMeasure() && $is($one)) !== [];
        })) : [];
        $plain = array_map(PickedColumn::plain(...), $stay);
        foreach ($measures === [] && $group === [] ? [] : $columns as $one) {
            $isNew = ! $had || ! in_array($one, $before, false);
            if ($isNew && self::isGrouped($one) && array_intersect($own($one), $plain) === []) {
                $stay[] = $one->expression;
            }
        }
        if ($measures === [] && array_filter($before, static fn (PickedColumn $one): bool => $one->isMeasure()) !== [] && $this->items('having') === []) {
            $stay = [];
        }

        $changed = $this->select->with('group', $stay)->with('select', array_map(static fn (PickedColumn $one): string => $one->text, $columns));
        foreach ($changed->items['order'] ?? [] as $text) {
            self::canOrder($changed, $text) || throw CannotBuild::because("Once rows are counted together they can only be ordered by what is shown. Take \"$text\" out of the order first.");
        }

        return $changed;
    }

    /**
     * Whether rows can be ordered by a column: where they are counted together, by what is shown or grouped by.
     *
     * @param  string  $text  of ORDER BY
     */
    public static function canOrder(SelectText $select, string $text): bool
    {
        $columns = array_map(PickedColumn::of(...), $select->items['select'] ?? []);
        $group = array_map(PickedColumn::plain(...), $select->items['group'] ?? []);
        if ($group === [] && array_filter($columns, static fn (PickedColumn $one): bool => $one->isMeasure()) === []) {
            return true;
        }
        $plain = PickedColumn::plain((string) preg_replace('/\s+(?:asc|desc)$/iD', '', $text));
        $shown = array_map(PickedColumn::plain(...), array_merge(...array_map(static fn (PickedColumn $one): array => array_filter([$one->expression, $one->alias, $one->name()]), $columns)));

        // What is more than a name may be made of what is shown.
        return preg_match('/^[\w$]+(?: \. [\w$]+)?$/D', $plain) !== 1 || ctype_digit($plain) || in_array($plain, [...$shown, ...$group], true);
    }

    private static function replaced(string $item, string $name, string $with): string
    {
        $tokens = Lexer::read($item);
        foreach (array_reverse($tokens, true) as $number => $token) {
            if ($token->name() !== null && strcasecmp($token->name(), $name) === 0 && ($tokens[$number - 1] ?? null)?->is('.') !== true && ($tokens[$number + 1] ?? null)?->is('.', '(') !== true) {
                $item = substr_replace($item, $with, $token->at, strlen($token->text));
            }
        }

        return $item;
    }

    /**
     * Whether a column of the result tells groups apart: not what is one value of many rows, what looks at other
     * rows, or a value alone, of which a number would be taken for a place.
     */
    private static function isGrouped(PickedColumn $one): bool
    {
        $isAlone = $one->use === null && count(Lexer::read($one->expression)) === 1;

        return ! $one->isMeasure() && ! $one->isEverything() && ! $isAlone && preg_match('/\)\s*over\b/i', $one->expression) !== 1;
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
