<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;

/**
 * One of the proposals of where the records are.
 */
final readonly class UseProposedRecords implements EndpointStep
{
    private function __construct(private int $number)
    {
    }

    public static function name(): string
    {
        return 'records';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->number('at'));
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $proposal = $context->sheet($endpoint)->suggestions()->records()[$this->number] ?? null;
        if ($proposal === null) {
            return $endpoint;
        }
        $answer = $proposal->answer + array_diff_key($endpoint['answer'] ?? [], ['records' => 1, 'rows' => 1]);

        return $answer === [] ? array_diff_key($endpoint, ['answer' => 1]) : ['answer' => $answer] + $endpoint;
    }
}
