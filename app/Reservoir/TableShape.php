<?php

declare(strict_types=1);

namespace App\Reservoir;

use App\Models\KeptColumn;
use App\Reservoir\MariaDb\Sql;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Mask\ColumnMask;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Flatten\Type\DecimalType;
use DeepSpring\Value\SafeNames;

/**
 * A table plan in the database's terms: safe names, SQL types, the key.
 */
final readonly class TableShape
{
    public string $name;

    /** @var list<KeptColumn> */
    public array $columns;

    /** @var list<string> names of columns, as the database knows them */
    public array $key;

    public function __construct(public TablePlan $plan)
    {
        $this->name = SafeNames::clean($plan->name);
        $names = self::safeNames($plan);
        $this->columns = array_map(static fn (Column $column, string $name): KeptColumn => new KeptColumn(
            $name, $column->name, $column->kept->name(), $column->mask === ColumnMask::None ? $column->type->label() : "{$column->type->label()}, {$column->mask->value}ed",
            $column->kept instanceof DecimalType ? $column->kept->scale : null, $column->origin(), $column->comment, $column->mask->value, $column->title, $column->unit,
        ), $plan->columns, $names);
        $given = array_map(static fn (Column $column): string => $column->name, $plan->columns);
        $this->key = array_map(static fn (string $name): string => $names[(int) array_search($name, $given, true)], $plan->key);
    }

    public function given(): string
    {
        return $this->plan->name;
    }

    /**
     * What people say of the table; null where nobody said anything.
     *
     * @return array{title: string, comment: string, owner: string}|null
     */
    public function texts(): ?array
    {
        $texts = ['title' => $this->plan->title, 'comment' => $this->plan->comment, 'owner' => $this->plan->owner];

        return array_filter($texts, static fn (string $one): bool => $one !== '') === [] ? null : $texts;
    }

    /**
     * @return list<string>
     */
    public static function safeNames(TablePlan $plan): array
    {
        return SafeNames::all(array_map(static fn (Column $column): string => $column->name, $plan->columns));
    }
}
