<?php

declare(strict_types=1);

namespace App\Reservoir;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Mask\ColumnMask;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Flatten\Type\ColumnType;
use DeepSpring\Flatten\Type\DecimalType;
use DeepSpring\Flatten\Type\TextType;
use DeepSpring\Value\SafeNames;

/**
 * A table plan in the database's terms: safe names, SQL types, the key.
 */
final readonly class TableShape
{
    /** Bytes that an InnoDB key holds. */
    private const KEY_BYTES = 3072;

    /** The column that numbers the rows of a table without a key; `SELECT *` does not show it. */
    public const ROW = '_row';

    public string $name;

    /** @var list<KeptColumn> */
    public array $columns;

    /** @var list<string> names of columns, as the database knows them */
    public array $key;

    public function __construct(private TablePlan $plan)
    {
        $this->name = SafeNames::clean($plan->name);
        $names = self::safeNames($plan);
        $this->columns = array_map(static fn (Column $column, string $name): KeptColumn => new KeptColumn(
            $name, $column->name, $column->kept->name(), $column->mask === ColumnMask::None ? $column->type->label() : "{$column->type->label()}, {$column->mask->value}ed",
            $column->kept instanceof DecimalType ? $column->kept->scale : null, $column->origin(), $column->comment, $column->mask->value,
        ), $plan->columns, $names);
        $given = array_map(static fn (Column $column): string => $column->name, $plan->columns);
        $this->key = array_map(static fn (string $name): string => $names[(int) array_search($name, $given, true)], $plan->key);
    }

    public function given(): string
    {
        return $this->plan->name;
    }

    /**
     * @return list<string>
     */
    public static function safeNames(TablePlan $plan): array
    {
        return SafeNames::all(array_map(static fn (Column $column): string => $column->name, $plan->columns));
    }

    /**
     * @throws KeepFailed
     */
    public function create(string $table): string
    {
        $lines = [];
        $bytes = 0;
        foreach ($this->plan->columns as $index => $column) {
            $lines[] = Sql::name($this->columns[$index]->name).' '.self::sqlType($column->kept, $column->inKey).($column->inKey ? ' NOT NULL' : ' NULL').($column->comment === '' ? '' : ' COMMENT '.Sql::text($column->comment));
            $bytes += $column->inKey ? ($column->kept instanceof TextType ? 4 * (int) $column->kept->length + 2 : ($column->kept->name() === 'uuid' ? 146 : 18)) : 0;
            if ($column->inKey && $column->type->name() === 'json') {
                throw KeepFailed::because("{$this->plan->name}.{$column->name} holds JSON, which cannot be part of a key.");
            }
        }
        if ($bytes > self::KEY_BYTES) {
            throw KeepFailed::because("The key of {$this->plan->name} has too many text columns for an index. Use fewer.");
        }
        $lines[] = $this->key === []
            ? Sql::name(self::ROW).' BIGINT UNSIGNED NOT NULL AUTO_INCREMENT INVISIBLE PRIMARY KEY'
            : 'PRIMARY KEY ('.implode(', ', array_map(Sql::name(...), $this->key)).')';

        return "CREATE TABLE $table (".implode(', ', $lines).') ENGINE=InnoDB ROW_FORMAT=DYNAMIC DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_nopad_bin';
    }

    private static function sqlType(ColumnType $type, bool $inKey): string
    {
        return match ($type->name()) {
            'integer' => 'BIGINT',
            'decimal' => 'DECIMAL('.DecimalType::PRECISION.','.($type instanceof DecimalType ? $type->scale : 0).')',
            'float' => 'DOUBLE',
            'boolean' => 'TINYINT(1)',
            'date' => 'DATE',
            'time' => 'TIME(6)',
            'uuid' => 'CHAR(36)',
            'datetime' => 'DATETIME(6)',
            'json' => 'LONGTEXT',
            default => $inKey && $type instanceof TextType && $type->length !== null ? "VARCHAR({$type->length})" : 'MEDIUMTEXT',
        };
    }
}
