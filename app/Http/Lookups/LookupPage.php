<?php

declare(strict_types=1);

namespace App\Http\Lookups;

use App\Models\KeptColumn;
use App\Models\KeptTable;
use DeepSpring\Ask\Input;
use DeepSpring\Ask\RowInputs;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\Suggest\RowBinding;

/**
 * What a lookup is bound to, as it can be changed.
 */
final readonly class LookupPage
{
    /** @var list<array{name: string, type: string, isNeeded: bool, column: string, text: string, why: string, example: string}> */
    public array $inputs;

    /** @var list<array{name: string, isKey: bool, isCarried: bool}> */
    public array $columns;

    public string $notFound;

    public string $rows;

    public string $answers;

    /** Whether it stands in the file already. */
    public bool $isOne;

    /**
     * @param  array<string, array{type: string, values: list<string>}>  $seen  columns of the table, with some of their values as they would be sent
     */
    public function __construct(EndpointDefinition $definition, public ?KeptTable $table, array $seen)
    {
        $endpoint = $definition->endpoint;
        $kept = $endpoint['keep']['inputs'] ?? [];
        $this->isOne = array_filter($kept, RowInputs::isOne(...)) !== [];
        $inputs = [];
        foreach ($definition->ask()->inputs as $input) {
            if ($input->fixed === null) {
                $inputs[] = self::input($input, $kept[$input->name] ?? null, $seen, $table, $this->isOne);
            }
        }
        $this->inputs = $inputs;
        $carried = array_column(array_filter($endpoint['flatten']['columns'] ?? [], static fn (array $column): bool => isset($column['row'])), 'row');
        $this->columns = $table === null ? [] : array_map(static fn (KeptColumn $column): array => [
            'name' => $column->given, 'isKey' => in_array($column->name, $table->key, true),
            'isCarried' => in_array($column->given, $carried, true) || $carried === [] && in_array($column->name, $table->key, true),
        ], $table->keptColumns());
        $lookup = $endpoint['keep']['lookup'] ?? [];
        $this->notFound = $lookup['not_found'] ?? 'reject';
        $this->rows = $lookup['rows'] ?? 'found';
        $this->answers = $lookup['answers'] ?? ($this->isOne ? '' : 'P1D');
    }

    /**
     * @param  array<string, array{type: string, values: list<string>}>  $seen
     * @return array{name: string, type: string, isNeeded: bool, column: string, text: string, why: string, example: string}
     */
    private static function input(Input $input, mixed $kept, array $seen, ?KeptTable $table, bool $isOne): array
    {
        $proposal = $isOne || $table === null ? null : RowBinding::of($input, $seen, $table->given_name);
        $column = RowInputs::isOne($kept) ? $kept['from']['column'] ?? '' : $proposal->column ?? '';

        return [
            'name' => $input->name, 'type' => $input->type->value, 'isNeeded' => $input->required && $input->default === null, 'column' => $column,
            'text' => RowInputs::isOne($kept) ? $kept['from']['text'] ?? '' : (is_scalar($kept) ? Input::text($kept) : ''),
            'why' => $proposal->why ?? '', 'example' => implode(', ', array_slice($seen[$column]['values'] ?? [], 0, 3)),
        ];
    }
}
