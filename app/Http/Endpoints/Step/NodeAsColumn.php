<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;
use App\Http\Endpoints\NodeActs;
use App\Sources\TableSuggestion;
use DeepSpring\SourceFile\Fault;
use DeepSpring\SourceFile\InvalidSourceFile;
use DeepSpring\Value\SafeNames;

/**
 * What stands at a node of the answer becomes a column.
 */
final readonly class NodeAsColumn implements EndpointStep
{
    private function __construct(private string $node, private string $type)
    {
    }

    public static function name(): string
    {
        return 'node-column';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->text('node'), $asked->text('type'));
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $from = NodeActs::inRecord($this->node, (string) ($endpoint['answer']['records'] ?? ''));
        if ($from === null) {
            throw InvalidSourceFile::because([new Fault('endpoints[0].flatten', "$this->node is not inside a record.")]);
        }
        $name = SafeNames::clean((string) preg_replace('/[^\pL\pN]+/u', '_', substr($from, 1)));
        $taken = array_column($endpoint['flatten']['columns'] ?? [], 'name');
        for ($try = $name, $number = 2; in_array($try, $taken, true); $number++) {
            $try = "{$name}_$number";
        }
        $endpoint['flatten'] ??= ['table' => TableSuggestion::freeName($context->row, $context->file, $endpoint), 'columns' => []];
        // Below a list inside the record there are several values: they are joined, or kept as a list.
        $several = str_contains($from, '[*]') ? ['many' => $this->type === 'json' ? 'json' : 'join'] + ($this->type === 'json' ? [] : ['with' => ', ']) : [];
        $type = in_array($this->type, ['text', 'integer', 'float', 'boolean', 'json'], true) ? $this->type : 'text';
        $endpoint['flatten']['columns'][] = ['name' => $try, 'from' => $from, 'type' => $several === [] || $type === 'json' ? $type : 'text'] + $several;

        return $endpoint;
    }
}
