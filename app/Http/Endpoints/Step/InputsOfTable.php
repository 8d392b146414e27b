<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use DeepSpring\Docs\FieldTable;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;

/**
 * The fields of a table in the documentation become inputs, or an answer to work from.
 */
final readonly class InputsOfTable implements EndpointStep
{
    private function __construct(private string $table, private bool $isSample)
    {
    }

    public static function name(): string
    {
        return 'fields-of-table';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->raw('table'), $asked->text('as') === 'sample');
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $rows = json_decode($this->table, true, 8);
        $rows = is_array($rows) ? array_values(array_map(static fn (array $row): array => array_values(array_map(static fn (mixed $cell): string => is_string($cell) ? $cell : '', $row)), array_filter($rows, is_array(...)))) : [];
        $table = FieldTable::of($rows);
        if ($table->fields === []) {
            throw InvalidSourceFile::because([new Fault('endpoints[0].'.($this->isSample ? 'answer' : 'ask'), 'No names of fields are found in the first column of this table.')]);
        }

        return $this->isSample ? GiveSample::ofText($table->sample())->apply($endpoint, $context) : $table->asInputs($endpoint);
    }
}
