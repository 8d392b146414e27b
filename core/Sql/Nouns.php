<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

use DeepSpring\Value\NearestName;

/**
 * The tables that a statement can read, with their columns.
 */
final readonly class Nouns
{
    /** @var array<string, list<string>> names of tables in small letters → their columns */
    private array $columns;

    /**
     * @param  array<string, list<string>>  $tables  name → columns
     */
    public function __construct(public array $tables)
    {
        $this->columns = array_change_key_case($tables);
    }

    public function has(string $table): bool
    {
        return isset($this->columns[strtolower($table)]);
    }

    public function nearestTable(string $name): ?string
    {
        return NearestName::to($name, array_map(strval(...), array_keys($this->tables)));
    }

    /**
     * Columns of the tables that a statement reads.
     *
     * @param  string|null  $of  alias of the only table that is meant
     * @return list<string>
     */
    public function columnsOf(string $sql, ?string $of = null): array
    {
        $columns = [];
        foreach (NamedTables::of($sql) as $named) {
            if ($of === null || strcasecmp($named->alias, $of) === 0) {
                array_push($columns, ...($this->columns[strtolower($named->name)] ?? []));
            }
        }

        return array_values(array_unique($columns));
    }
}
