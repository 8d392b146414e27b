<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

/**
 * How records become rows: a table, and its branches.
 */
final readonly class Plan
{
    /**
     * @param  list<TablePlan>  $branches
     */
    public function __construct(public TablePlan $table, public array $branches)
    {
    }

    /**
     * @param  array<string, mixed>  $flatten  valid by the schema
     *
     * @throws \DeepSpring\Answer\JsonPath\InvalidJsonPath
     */
    public static function of(array $flatten): self
    {
        return new self(TablePlan::of($flatten), array_values(array_map(TablePlan::of(...), $flatten['branches'] ?? [])));
    }

    /**
     * @return non-empty-list<TablePlan>
     */
    public function tables(): array
    {
        return [$this->table, ...$this->branches];
    }
}
