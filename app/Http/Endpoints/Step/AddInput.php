<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;

/**
 * A new input, with a name that is free.
 */
final readonly class AddInput implements EndpointStep
{
    public static function name(): string
    {
        return 'add-input';
    }

    public static function of(Asked $asked): self
    {
        return new self;
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $taken = array_column($endpoint['ask']['inputs'] ?? [], 'name');
        for ($number = 1; in_array("input_$number", $taken, true); $number++) {
            continue;
        }
        $endpoint['ask']['inputs'][] = ['name' => "input_$number", 'in' => 'query'];

        return $endpoint;
    }
}
