<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use App\Http\Endpoints\FlattenTables;

/**
 * A new column of the table with this number.
 */
final readonly class AddColumn implements EndpointStep
{
    private function __construct(private int $table)
    {
    }

    public static function name(): string
    {
        return 'add-column';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->number('at'));
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $new = ['name' => 'column_'.random_int(100, 999), 'from' => '$', 'type' => 'json'];
        if (isset($endpoint['flatten'])) {
            $endpoint['flatten'] = FlattenTables::change($endpoint['flatten'], $this->table, static fn (array $one): array => ['columns' => [...$one['columns'], $new]] + $one);
        }

        return $endpoint;
    }
}
