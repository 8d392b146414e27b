<?php

declare(strict_types=1);

namespace App\Http\Endpoints\Step;

use App\Http\Editing\Asked;

/**
 * A node of the answer leads to the next page, as a cursor or as a link.
 */
final readonly class NodeAsCursor implements EndpointStep
{
    private function __construct(private string $node, private string $value)
    {
    }

    public static function name(): string
    {
        return 'node-cursor';
    }

    public static function of(Asked $asked): self
    {
        return new self($asked->text('node'), $asked->raw('value'));
    }

    public function apply(array $endpoint, EndpointContext $context): array
    {
        $isLink = preg_match('~^(?:https?:/)?/~', $this->value) === 1;
        $was = $endpoint['onward'] ?? [];
        $size = array_intersect_key($was, ['size' => 1, 'size_as' => 1, 'max_pages' => 1]);
        $cursor = ['style' => 'cursor', 'send_as' => $was['send_as'] ?? 'after', 'next' => $this->node] + array_intersect_key($was, ['more' => 1]);
        $endpoint['onward'] = ($isLink ? ['style' => 'next-link', 'link' => $this->node] : $cursor) + $size;

        return $endpoint;
    }
}
