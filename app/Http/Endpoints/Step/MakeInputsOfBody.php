<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use App\Http\Endpoints\BodyForm;

/**
 * Inputs from what varies in the body.
 */
final readonly class MakeInputsOfBody implements EndpointStep
{
    public static function name(): string
    {
        return 'body-inputs';
    }

    public static function of(Asked $asked): self
    {
        return new self;
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        return ['ask' => BodyForm::withInputs($endpoint['ask'])] + $endpoint;
    }
}
