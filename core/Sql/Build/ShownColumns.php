<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

use DeepSpring\Sql\Lexer;

/**
 * What stands behind the columns of a result: a column of a table as it is, something made of columns, or many rows
 * at once.
 */
final readonly class ShownColumns
{
    /** @var list<array{PickedColumn, ReadTable|null, string|null}> what is written; the table and the column of it, where it comes unchanged */
    public array $all;

    public function __construct(private SelectText $select, private ReadTables $tables)
    {
        $all = [];
        foreach ($this->select->items['select'] ?? [] as $text) {
            $one = PickedColumn::of($text);
            if ($one->isEverything()) {
                $of = preg_match('/^`?([\w$]+)`?\s*\./', $one->expression, $found) === 1 ? $found[1] : null;
                foreach ($this->tables->all as $table) {
                    foreach ($of === null || strcasecmp($table->alias, $of) === 0 ? array_keys($table->types) : [] as $name) {
                        $all[] = [PickedColumn::of("$table->alias.$name"), $table, (string) $name];
                    }
                }
            } else {
                $table = $one->use === ColumnUse::Itself ? $this->owner((string) $one->column) : null;
                $all[] = [$one, $table, $table === null ? null : strtolower(PickedColumn::bare((string) $one->column))];
            }
        }
        $this->all = $all;
    }

    /**
     * Whether a row of the result stands for several of the tables.
     */
    public function areGrouped(): bool
    {
        return ($this->select->items['group'] ?? []) !== [] || $this->select->distinct || array_filter($this->all, static fn (array $one): bool => $one[0]->isMeasure()) !== [];
    }

    /**
     * The rows of the tables that one row of the result stands for.
     *
     * @param  list<string|null>  $row  values of the result
     * @param  int  $most  rows
     * @return array{string, list<string>} the statement, and by what it is grouped besides that is not shown
     *
     * @throws CannotBuild where a comment would be lost
     */
    public function beneath(array $row, int $most): array
    {
        $where = $this->select->items['where'] ?? [];
        $where = count($where) === 1 ? ["($where[0])"] : $where;
        $hidden = [];
        $shown = array_column($this->all, 0);
        $group = $this->select->items['group'] ?? [];
        foreach ($this->select->distinct && $group === [] ? array_keys($shown) : array_map(fn (string $text): int|string => $this->place($text) ?? $text, $group) as $place) {
            if (is_string($place) || ! array_key_exists($place, $row)) {
                $hidden[] = (string) $place;
            } elseif (! $shown[$place]->isMeasure()) {
                $where[] = $shown[$place]->expression.' '.($row[$place] === null ? 'is null' : '<=> '.self::literal($row[$place], $this->tables->isNumber((string) $shown[$place]->column) && $shown[$place]->use === ColumnUse::Itself));
            }
        }
        $select = $this->select->with('group', [])->with('having', [])->with('window', [])->with('order', [])->with('where', $where)->with('select', ['*'], false)->with('limit', [(string) $most]);

        return [$select->sql(), $hidden];
    }

    /**
     * The column of the result that something in GROUP BY is: by its text, its name or its number.
     */
    private function place(string $text): ?int
    {
        foreach ($this->all as $place => [$one]) {
            $same = array_map(PickedColumn::plain(...), array_filter([$one->expression, $one->alias]));
            if (in_array(PickedColumn::plain($text), $same, true) || $text === (string) ($place + 1) || $one->use === ColumnUse::Itself && strcasecmp(PickedColumn::bare((string) $one->column), $text) === 0) {
                return $place;
            }
        }

        return null;
    }

    private function owner(string $column): ?ReadTable
    {
        $tokens = Lexer::read($column);
        $name = PickedColumn::bare($column);
        foreach ($this->tables->owners($name) as $table) {
            if (count($tokens) === 1 || strcasecmp((string) $tokens[0]->name(), $table->alias) === 0) {
                return $table;
            }
        }

        return null;
    }

    private static function literal(string $value, bool $isNumber): string
    {
        return $isNumber && is_numeric($value) ? $value : "'".strtr($value, ['\\' => '\\\\', "'" => "''"])."'";
    }
}
