<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Evidence\SampledRecords;
use App\Http\Editing\Asked;
use App\Sources\TableSuggestion;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * Columns from the records of the last try, or of the sample.
 */
final readonly class ProposeColumns implements EndpointStep
{
    public static function name(): string
    {
        return 'propose';
    }

    public static function of(Asked $asked): self
    {
        return new self;
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $sheet = $context->sheet($endpoint);
        if ($sheet->records === []) {
            return $endpoint;
        }
        $records = $sheet->answer->isSample ? [] : SampledRecords::of($context->row, new EndpointDefinition($endpoint), $context->environment)->written();
        $suggested = TableSuggestion::of($context->row, $context->file, $endpoint, $records ?: $sheet->page->written(), $sheet->answer);
        $endpoint['flatten'] = $suggested->flatten + array_intersect_key($endpoint['flatten'] ?? [], ['leave_out' => 1]);

        return $endpoint;
    }
}
