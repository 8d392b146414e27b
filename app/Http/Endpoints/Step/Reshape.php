<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;

/**
 * What was chosen changes which fields the sheet has, and nothing else.
 */
final readonly class Reshape implements EndpointStep
{
    public static function name(): string
    {
        return 'reshape';
    }

    public static function of(Asked $asked): self
    {
        return new self;
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        return $endpoint;
    }
}
