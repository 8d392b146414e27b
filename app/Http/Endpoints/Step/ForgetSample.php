<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;

/**
 * The sample goes; what it led to stays.
 */
final readonly class ForgetSample implements EndpointStep
{
    public static function name(): string
    {
        return 'sample-forget';
    }

    public static function of(Asked $asked): self
    {
        return new self;
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        return ['answer' => array_diff_key($endpoint['answer'] ?? [], ['sample' => 1])] + $endpoint;
    }
}
