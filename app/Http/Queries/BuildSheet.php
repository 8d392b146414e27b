<?php

declare(strict_types=1);

namespace App\Http\Queries;

use App\Queries\KnownTables;
use DeepSpring\Sql\Build\ColumnUse;
use DeepSpring\Sql\Build\PickedColumn;
use DeepSpring\Sql\Build\PickedCondition;
use DeepSpring\Sql\Build\ReadTables;
use DeepSpring\Sql\Build\SelectText;
use DeepSpring\Sql\JoinTie;

/**
 * A statement as parts that can be picked.
 */
final readonly class BuildSheet
{
    /** @var list<PickedColumn> */
    public array $columns;

    /** @var array<string, list<PickedCondition>> */
    public array $conditions;

    /** @var list<string> names of all tables that there are */
    public array $names;

    /**
     * @param  SelectText|null  $select  null where there is none that can be shown
     * @param  string  $zone  of the person
     */
    public function __construct(public ?SelectText $select, public ReadTables $tables, private KnownTables $known, public string $zone)
    {
        $this->columns = array_map(PickedColumn::of(...), $this->items('select'));
        $this->conditions = array_map(static fn (array $items): array => array_map(PickedCondition::of(...), $items), array_filter(['where' => $this->items('where'), 'having' => $this->items('having')]));
        $this->names = array_map(strval(...), array_keys($known->tables()));
    }

    /**
     * @return list<string>
     */
    public function items(string $clause): array
    {
        return $this->select->items[$clause] ?? [];
    }

    /**
     * What can be picked of each table, as the statement has to name it.
     *
     * @return array<string, array<string, string>> alias → name in the statement → name of the column
     */
    public function offered(): array
    {
        $several = count($this->tables->all) > 1;
        $offered = [];
        foreach ($this->tables->all as $table) {
            foreach (array_keys($table->types) as $name) {
                $offered[$table->alias][$several ? "$table->alias.$name" : (string) $name] = (string) $name;
            }
        }

        return $offered;
    }

    /**
     * Measures that have a name, which conditions and order can use.
     *
     * @return list<string>
     */
    public function measures(): array
    {
        return array_values(array_map(static fn (PickedColumn $one): string => $one->name(), array_filter($this->columns, static fn (PickedColumn $one): bool => $one->isMeasure() && $one->alias !== null)));
    }

    /**
     * @return list<ColumnUse>
     */
    public function uses(PickedColumn $column): array
    {
        $uses = $column->column === '*' ? [ColumnUse::Count] : ColumnUse::for($this->tables->type((string) $column->column) ?? 'text');

        // What is written stands there, whatever is known of the column.
        return $column->use === null || in_array($column->use, $uses, true) ? $uses : [...$uses, $column->use];
    }

    /**
     * Tables that belong to one that is read: each with the columns that hold the same.
     *
     * @return list<array{label: string, table: string, here: string, there: string}>
     */
    public function ties(): array
    {
        $ties = [];
        foreach ($this->tables->all as $table) {
            foreach (array_filter($this->known->ties($table->name), static fn (JoinTie $tie): bool => count($tie->pairs) === 1) as $tie) {
                $ties[] = ['label' => "$tie->other, $tie->why: {$tie->pairs[0][1]} = $table->alias.{$tie->pairs[0][0]}", 'table' => $tie->other, 'here' => "$table->alias.{$tie->pairs[0][0]}", 'there' => $tie->pairs[0][1]];
            }
        }

        return $ties;
    }

    /**
     * Columns of a table that is to be joined.
     *
     * @return list<string>
     */
    public function columnsOf(string $table): array
    {
        return array_map(strval(...), array_keys($this->known->types($table)));
    }
}
