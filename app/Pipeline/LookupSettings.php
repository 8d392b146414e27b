<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Ask\InputSets;
use DeepSpring\Ask\RowInputs;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\Plan;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * How an endpoint is read for each row of a table.
 */
final readonly class LookupSettings
{
    /**
     * @param  array<string, list<string>>  $constants  values that are the same for all rows
     * @param  list<string>  $carried  columns of the row that the tables carry
     * @param  bool  $emptyWhereNotFound  whether 404 and 410 mean that there is nothing
     * @param  bool  $everyRow  whether a row for which nothing came is a row of the table
     * @param  \DateInterval|null  $answers  how long an answer counts as known
     */
    private function __construct(public RowInputs $rows, public array $constants, public array $carried, public bool $emptyWhereNotFound, public bool $everyRow, public ?\DateInterval $answers)
    {
    }

    /**
     * @return self|null null where it is read as one list
     *
     * @throws \DeepSpring\Ask\InvalidInput
     */
    public static function of(EndpointDefinition $endpoint, ?Plan $plan): ?self
    {
        $keep = $endpoint->endpoint['keep'] ?? [];
        $rows = RowInputs::of($keep['inputs'] ?? []);
        if ($rows === null) {
            return null;
        }
        $carried = [];
        foreach ($plan?->tables() ?? [] as $table) {
            array_push($carried, ...array_map(static fn (Column $column): string => $column->input, array_filter($table->columns, static fn (Column $column): bool => $column->source === ColumnSource::Row)));
        }
        $lookup = $keep['lookup'] ?? [];

        return new self(
            $rows, InputSets::of($endpoint->ask(), $keep['inputs'])->sets[0], array_values(array_unique($carried)), ($lookup['not_found'] ?? 'reject') === 'empty',
            ($lookup['rows'] ?? 'found') === 'all', isset($lookup['answers']) ? new \DateInterval($lookup['answers']) : null,
        );
    }

    /**
     * Columns of the table that are needed for it.
     *
     * @return list<string>
     */
    public function columns(): array
    {
        return array_values(array_unique([...$this->rows->columns(), ...$this->carried]));
    }
}
