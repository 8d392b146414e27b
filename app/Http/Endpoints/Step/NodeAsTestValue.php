<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;

/**
 * A value of the answer is what an input is tried with.
 */
final readonly class NodeAsTestValue implements EndpointStep
{
    private function __construct(private string $input, private string $value)
    {
    }

    public static function name(): string
    {
        return 'node-input';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->text('input'), $asked->raw('value'));
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        foreach ($endpoint['ask']['inputs'] ?? [] as $number => $input) {
            if ($input['name'] === $this->input) {
                $endpoint['ask']['inputs'][$number] = ['try' => isset($input['many']) ? [$this->value] : $this->value] + array_diff_key($input, ['fixed' => 1]);
            }
        }

        return $endpoint;
    }
}
