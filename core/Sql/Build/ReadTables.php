<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

/**
 * The tables that a statement reads, in the order in which they are named.
 */
final readonly class ReadTables
{
    private const NUMBERS = ['integer', 'decimal', 'float', 'boolean'];

    /**
     * @param  list<ReadTable>  $all
     */
    public function __construct(public array $all)
    {
    }

    /**
     * A column as the statement can name it.
     *
     * @throws CannotBuild where it is none of theirs
     */
    public function named(string $column): string
    {
        return $this->type($column) === null ? throw CannotBuild::because("\"$column\" is no column of these tables.") : $column;
    }

    public function isNumber(string $column): bool
    {
        return in_array($this->type($column), self::NUMBERS, true);
    }

    /**
     * What a column holds, as a source file says it; null for what is no column.
     *
     * @param  string  $column  with or without the table's name and a point before it
     */
    public function type(string $column): ?string
    {
        $parts = explode('.', str_replace('`', '', $column));
        $name = strtolower($parts[count($parts) - 1]);
        foreach ($this->all as $table) {
            if (isset($table->types[$name]) && (count($parts) === 1 || strcasecmp($table->alias, $parts[0]) === 0)) {
                return $table->types[$name];
            }
        }

        return null;
    }

    /**
     * Tables with a column of that name.
     *
     * @return list<ReadTable>
     */
    public function owners(string $name): array
    {
        return array_values(array_filter($this->all, static fn (ReadTable $one): bool => isset($one->types[strtolower($name)])));
    }

    /**
     * @return list<string>
     */
    public function aliases(): array
    {
        return array_map(static fn (ReadTable $one): string => $one->alias, $this->all);
    }
}
