<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use App\Sources\TableSuggestion;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\Suggest\Suggestion;

/**
 * What was suggested is not it, but something else that is on offer.
 */
final readonly class UseOther implements EndpointStep
{
    private function __construct(private string $place, private int $number)
    {
    }

    public static function name(): string
    {
        return 'use-other';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->text('place'), $asked->number('at'));
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $suggestions = array_values(array_filter(array_map(Suggestion::of(...), $context->row->suggestions['made'] ?? []), static fn (Suggestion $one): bool => $one->stands($endpoint)));
        foreach ($suggestions as $suggestion) {
            $other = $suggestion->place === $this->place ? $suggestion->others[$this->number] ?? null : null;
            if ($other === null) {
                continue;
            }
            $endpoint = Suggestion::put($endpoint, $this->place, $other['value']);
            if ($this->place === 'records' && in_array('columns', array_map(static fn (Suggestion $one): string => $one->place, $suggestions), true)) {
                $endpoint = $this->withColumns($endpoint, $context);
            }
        }

        return $endpoint;
    }

    /**
     * Columns that were suggested from other records are suggested anew.
     *
     * @param  array<string, mixed>  $endpoint
     * @return array<string, mixed>
     */
    private function withColumns(array $endpoint, EndpointContext $context): array
    {
        $answer = $context->sheet($endpoint)->answer;
        $definition = new EndpointDefinition($endpoint);
        $records = $answer->read === null ? [] : $definition->answer()->pageOf($answer->read)->values;
        if ($records === []) {
            return array_diff_key($endpoint, ['flatten' => 1]);
        }
        $endpoint['flatten'] = TableSuggestion::of($context->row, $context->file, ['flatten' => ['table' => $endpoint['flatten']['table']]] + $endpoint, $records, $answer)->flatten;

        return $endpoint;
    }
}
