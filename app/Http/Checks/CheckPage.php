<?php

declare(strict_types=1);

namespace App\Http\Checks;

use DeepSpring\Check\Checks;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\Value\JsonSubtrees;

/**
 * The checks of an endpoint, as they can be changed.
 */
final readonly class CheckPage
{
    /** @var list<CheckRow> */
    public array $rows;

    /** @var array<string, list<string>> columns by table */
    public array $tables;

    /** By which it is seen that somebody else changed them. */
    public string $seen;

    /**
     * @param  array<array-key, mixed>|null  $typed  rows that were sent and not kept; null for what the document has
     */
    public function __construct(EndpointDefinition $definition, ?Plan $plan, ?array $typed)
    {
        $checks = $definition->endpoint['keep']['checks'] ?? [];
        $this->seen = self::mark($checks);
        $tables = [];
        foreach ($plan?->tables() ?? [] as $table) {
            $tables[$table->name] = array_map(static fn (Column $column): string => $column->name, $table->columns);
        }
        $this->tables = $tables;
        $main = $plan?->table;
        $rows = [];
        foreach ($typed ?? $checks as $number => $one) {
            $row = is_array($one) ? ($typed === null ? self::ofDocument((int) $number, $one, $main) : self::ofForm($one)) : null;
            if ($row !== null) {
                $rows[] = new CheckRow(count($rows), $row['was'], $row['kind'], $row['table'], $row['on'], $row['values'], $tables[$row['table']] ?? []);
            }
        }
        $this->rows = $rows;
    }

    /**
     * @param  list<array<string, mixed>>  $checks
     */
    public static function mark(array $checks): string
    {
        return hash('xxh64', JsonSubtrees::canonical($checks));
    }

    /**
     * @param  array<string, mixed>  $check
     * @return array{was: string, kind: string, table: string, on: string, values: array<string, string>}|null
     */
    private static function ofDocument(int $number, array $check, ?TablePlan $main): ?array
    {
        try {
            $kind = Checks::kindOf($check);
        } catch (InvalidCheck) {
            return null;
        }

        return ['was' => (string) $number, 'kind' => $kind, 'table' => $check['table'] ?? $main->name ?? '', 'on' => $check['on'] ?? 'stop', 'values' => CheckForm::shown($kind, $check)];
    }

    /**
     * @param  array<array-key, mixed>  $row
     * @return array{was: string, kind: string, table: string, on: string, values: array<string, string>}|null
     */
    private static function ofForm(array $row): ?array
    {
        $texts = [];
        foreach ($row as $name => $value) {
            $texts[(string) $name] = is_string($value) ? $value : '';
        }

        return Checks::family()->kind($texts['kind'] ?? '') === null ? null : ['was' => $texts['was'] ?? '', 'kind' => $texts['kind'] ?? '', 'table' => $texts['table'] ?? '', 'on' => $texts['on'] ?? 'stop', 'values' => $texts];
    }
}
