<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Expression\Expression;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Mask\ColumnMask;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Flatten\Type\Storage;
use DeepSpring\Flatten\Type\Types;
use DeepSpring\Value\NearestName;
use DeepSpring\Value\Unfit;

/**
 * A table as checks see it.
 */
final readonly class CheckedTable
{
    public string $name;

    /** @var array<string, Column> */
    private array $columns;

    public function __construct(private TablePlan $plan, private ?\DateTimeImmutable $now = null)
    {
        $this->name = $plan->name;
        $this->columns = array_column($plan->columns, null, 'name');
    }

    /**
     * @throws InvalidCheck
     */
    public function column(string $name, string $where): Column
    {
        $near = NearestName::to($name, array_map(strval(...), array_keys($this->columns)));

        return $this->columns[$name] ?? throw InvalidCheck::because($where, $name === '' ? 'Say which column.' : "The table $this->name has no column \"$name\"".($near === null ? '.' : "; \"$near\" was probably meant."));
    }

    /**
     * One whose values stand in the table as they are.
     *
     * @throws InvalidCheck
     */
    public function plainColumn(string $name, string $where): Column
    {
        $column = $this->column($name, $where);
        if ($column->mask !== ColumnMask::None) {
            throw InvalidCheck::because($where, "\"$name\" is masked, so its values are not there to be looked at.");
        }
        if ($column->kept->storage() === Storage::Json) {
            throw InvalidCheck::because($where, "\"$name\" holds JSON. Make a column of the part that has to be checked.");
        }

        return $column;
    }

    /**
     * One whose values are equal where they were equal before they were masked.
     *
     * @throws InvalidCheck
     */
    public function comparableColumn(string $name, string $where): Column
    {
        $column = $this->column($name, $where);
        if (! in_array($column->mask, [ColumnMask::None, ColumnMask::Hash], true) || $column->kept->storage() === Storage::Json) {
            throw InvalidCheck::because($where, "The values of \"$name\" cannot be compared: it is ".($column->mask === ColumnMask::None ? 'JSON.' : "{$column->mask->value}ed."));
        }

        return $column;
    }

    /**
     * Several columns, each once.
     *
     * @param  list<string>  $names
     * @return list<string>
     *
     * @throws InvalidCheck
     */
    public function columns(array $names, string $where): array
    {
        $names = array_values(array_unique($names));
        $names === [] ? throw InvalidCheck::because($where, 'Say which columns.') : array_map(fn (string $name): Column => $this->column($name, $where), $names);

        return $names;
    }

    /**
     * A value as the database writes those of a column.
     *
     * @throws InvalidCheck
     */
    public function value(Column $column, mixed $value, string $where): string
    {
        // How moments are written in answers says nothing of how they are written in a rule.
        $isMoment = in_array($column->kept->storage(), [Storage::Date, Storage::Time, Storage::DateTime], true);
        $type = $isMoment ? Types::of(['type' => $column->kept->name()], false) : $column->kept;
        $written = $type->convert(is_float($value) ? (string) json_encode($value) : $value);

        return $written instanceof Unfit ? throw InvalidCheck::because($where, (is_scalar($value) ? (string) json_encode($value, JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES) : 'This')." is no value of \"$column->name\": {$written->reason}.") : $written;
    }

    /**
     * @throws InvalidCheck
     */
    public function condition(string $expression, string $where): Expression
    {
        try {
            return Expression::condition($expression, Column::scope($this->plan->columns), $this->now);
        } catch (InvalidExpression $invalid) {
            throw InvalidCheck::because($where, $invalid->getMessage());
        }
    }

    /**
     * All columns, in their order.
     *
     * @return list<string>
     */
    public function names(): array
    {
        return array_map(strval(...), array_keys($this->columns));
    }

    /**
     * @param  list<string>  $columns
     */
    public function isKey(array $columns): bool
    {
        return $this->plan->key !== [] && array_diff($columns, $this->plan->key) === [] && array_diff($this->plan->key, $columns) === [];
    }
}
