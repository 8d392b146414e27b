<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;

/**
 * One of the proposals of how to get the rest.
 */
final readonly class UseProposedPaging implements EndpointStep
{
    private function __construct(private int $number)
    {
    }

    public static function name(): string
    {
        return 'onward';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->number('at'));
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $proposal = $context->sheet($endpoint)->suggestions()->paging()[$this->number] ?? null;

        return $proposal === null ? $endpoint : $proposal->appliedTo($endpoint);
    }
}
