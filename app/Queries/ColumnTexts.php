<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\KeptColumn;
use App\Models\KeptTable;
use DeepSpring\Sql\Build\CannotBuild;
use DeepSpring\Sql\Build\ReadTable;
use DeepSpring\Sql\Build\ReadTables;
use DeepSpring\Sql\Build\SelectText;
use DeepSpring\Sql\Build\ShownColumns;
use DeepSpring\Sql\NamedTable;
use DeepSpring\Sql\NamedTables;

/**
 * What people say of the columns of a result that come unchanged from a kept table.
 */
final readonly class ColumnTexts
{
    /**
     * @return array<int, KeptColumn> by the place in the result
     */
    public static function of(Environment $environment, string $sql): array
    {
        try {
            $select = SelectText::of($sql);
        } catch (CannotBuild) {
            return [];
        }
        $named = NamedTables::of($sql);
        $kept = KeptTable::query()->where('environment_id', $environment->id)->whereIn('name', array_map(static fn (NamedTable $one): string => $one->name, $named))->get()->keyBy('name');
        $tables = new ReadTables(array_map(static fn (NamedTable $one): ReadTable => new ReadTable($one->name, $one->alias, array_change_key_case(array_column($kept->get($one->name)->columns ?? [], 'type', 'name'))), $named));
        $shown = new ShownColumns($select, $tables);
        $texts = [];
        foreach ($shown->all as $place => [$one, $table, $name]) {
            foreach ($table === null ? [] : $kept->get($table->name)?->keptColumns() ?? [] as $column) {
                if (strtolower($column->name) === $name) {
                    $texts[$place] = $column;
                }
            }
        }

        return $texts;
    }

    /**
     * Names for the head of a file: titles with units, where somebody said one.
     *
     * @return array<int, string> by the place in the result
     */
    public static function headings(Environment $environment, string $sql): array
    {
        return array_map(static fn (KeptColumn $one): string => $one->heading(), array_filter(self::of($environment, $sql), static fn (KeptColumn $one): bool => $one->title !== '' || $one->unit !== ''));
    }
}
