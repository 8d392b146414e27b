<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;

/**
 * The records are where somebody pointed.
 */
final readonly class ChooseRecords implements EndpointStep
{
    private function __construct(private string $path)
    {
    }

    public static function name(): string
    {
        return 'records-at';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->text('at'));
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        return $this->path === '' ? $endpoint : ['answer' => ['records' => $this->path] + ($endpoint['answer'] ?? [])] + $endpoint;
    }
}
