<?php

declare(strict_types=1);

namespace App\Reservoir\MariaDb;

use App\Reservoir\KeepFailed;
use App\Reservoir\TableShape;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Type\DecimalType;
use DeepSpring\Flatten\Type\Storage;
use DeepSpring\Flatten\Type\TextType;

/**
 * A table as a statement makes it.
 */
final class TableDefinition
{
    /** Bytes that an InnoDB key holds. */
    private const KEY_BYTES = 3072;

    /** The column that numbers the rows of a table without a key; `SELECT *` does not show it. */
    public const ROW = '_row';

    /**
     * @param  string  $table  quoted
     *
     * @throws KeepFailed
     */
    public static function create(TableShape $shape, string $table, ?ColumnWidths $widths = null): string
    {
        $lines = [];
        $bytes = 0;
        $types = $widths?->changesOf(ColumnWidths::unbounded(self::growing($shape))) ?? [];
        foreach ($shape->plan->columns as $index => $column) {
            $lines[] = self::column($shape, $index, $types[$index] ?? null);
            $bytes += $column->inKey ? self::keyBytes($column) : 0;
            if ($column->inKey && $column->type->storage() === Storage::Json) {
                throw KeepFailed::because("{$shape->plan->name}.{$column->name} holds JSON, which cannot be part of a key.");
            }
        }
        if ($bytes > self::KEY_BYTES) {
            throw KeepFailed::because("The key of {$shape->plan->name} has too many text columns for an index. Use fewer.");
        }
        $lines[] = $shape->key === []
            ? Sql::name(self::ROW).' BIGINT UNSIGNED NOT NULL AUTO_INCREMENT INVISIBLE PRIMARY KEY'
            : 'PRIMARY KEY ('.implode(', ', array_map(Sql::name(...), $shape->key)).')';

        return "CREATE TABLE $table (".implode(', ', $lines).') ENGINE=InnoDB ROW_FORMAT=DYNAMIC DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_nopad_bin';
    }

    /**
     * Changes of the columns of a table from one width to another; null where there is nothing to change.
     *
     * @param  string  $table  quoted
     */
    public static function widths(TableShape $shape, string $table, ColumnWidths $from, ColumnWidths $to): ?string
    {
        $changes = [];
        foreach ($to->changesOf($from) as $place => $type) {
            $changes[] = 'MODIFY '.self::column($shape, $place, $type);
        }

        return $changes === [] ? null : "ALTER TABLE $table ".implode(', ', $changes);
    }

    /**
     * Columns whose width follows what is seen, by their place.
     *
     * @return array<int, GrowingColumn>
     */
    public static function growing(TableShape $shape): array
    {
        return array_filter(array_map(GrowingColumn::of(...), $shape->plan->columns));
    }

    private static function column(TableShape $shape, int $index, ?string $type = null): string
    {
        $column = $shape->plan->columns[$index];

        return Sql::name($shape->columns[$index]->name).' '.($type ?? GrowingColumn::of($column)?->sql(null) ?? self::type($column)).($column->inKey ? ' NOT NULL' : ' NULL').($column->comment === '' ? '' : ' COMMENT '.Sql::text($column->comment));
    }

    private static function type(Column $column): string
    {
        $type = $column->kept;

        return match ($type->storage()) {
            Storage::Integer => 'BIGINT',
            Storage::Decimal => $type instanceof DecimalType ? "DECIMAL({$type->precision},{$type->scale})" : 'DECIMAL(65,30)',
            Storage::Float => 'DOUBLE',
            Storage::Boolean => 'TINYINT(1)',
            Storage::Date => 'DATE',
            Storage::Time => 'TIME(6)',
            Storage::FixedText => 'CHAR(36)',
            Storage::DateTime => 'DATETIME(6)',
            Storage::Json => 'LONGTEXT',
            Storage::Text => $type instanceof TextType && $type->length !== null ? "VARCHAR({$type->length})" : 'MEDIUMTEXT',
        };
    }

    /**
     * Bytes that a column takes of an index, with four to a character and some for its length.
     */
    private static function keyBytes(Column $column): int
    {
        return match ($column->kept->storage()) {
            Storage::Text => 4 * ($column->kept instanceof TextType ? (int) $column->kept->length : 0) + 2,
            Storage::FixedText => 4 * 36 + 2,
            default => 18,
        };
    }
}
