<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use App\Http\Endpoints\FlattenTables;
use App\Runs\TableNames;

/**
 * A table gets another name, since the one it has is taken.
 */
final readonly class UseFreeName implements EndpointStep
{
    private function __construct(private string $table)
    {
    }

    public static function name(): string
    {
        return 'free-name';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->text('table'));
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $free = isset($endpoint['flatten']) ? (new TableNames($context->row, $context->file))->conflicts($endpoint['flatten'])[$this->table]['free'] ?? null : null;
        if ($free !== null) {
            $endpoint['flatten'] = FlattenTables::each($endpoint['flatten'], fn (array $table): array => ($table['table'] ?? null) === $this->table ? ['table' => $free] + $table : $table);
        }

        return $endpoint;
    }
}
