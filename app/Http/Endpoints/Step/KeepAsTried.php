<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use DeepSpring\SourceFile\KeptInputs;

/**
 * The test values become what the table is read with.
 */
final readonly class KeepAsTried implements EndpointStep
{
    public static function name(): string
    {
        return 'keep-as-tried';
    }

    public static function of(Asked $asked): self
    {
        return new self;
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        return KeptInputs::put($endpoint, KeptInputs::fromTestValues(KeptInputs::put($endpoint, [])));
    }
}
