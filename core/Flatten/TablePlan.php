<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

use DeepSpring\Answer\JsonPath\JsonPath;

/**
 * One table to be made: from the records, or (a branch) from an array inside each of them.
 */
final readonly class TablePlan
{
    /**
     * @param  list<Column>  $columns
     * @param  list<string>  $key  names of columns
     */
    public function __construct(public string $name, public array $columns, public array $key, public ?JsonPath $from = null)
    {
    }

    /**
     * @param  array<string, mixed>  $table  valid by the schema
     *
     * @throws \DeepSpring\Answer\JsonPath\InvalidJsonPath
     */
    public static function of(array $table): self
    {
        $key = $table['key'] ?? [];

        return new self(
            $table['table'],
            array_values(array_map(static fn (array $column): Column => Column::of($column, in_array($column['name'], $key, true)), $table['columns'] ?? [])),
            $key,
            isset($table['from']) ? JsonPath::parse($table['from']) : null,
        );
    }
}
