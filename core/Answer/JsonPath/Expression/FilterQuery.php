<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\JsonNode;
use DeepSpring\Answer\JsonPath\JsonPathQuery;

/**
 * A query inside a filter: a node list, a test for existence and, when singular, a value.
 */
final readonly class FilterQuery implements Comparable, Logical
{
    public function __construct(public JsonPathQuery $query)
    {
    }

    /**
     * @return list<JsonNode>
     */
    public function nodes(mixed $current, mixed $root): array
    {
        return $this->query->nodes($this->query->absolute ? $root : $current, $root);
    }

    public function holds(mixed $current, mixed $root): bool
    {
        return $this->nodes($current, $root) !== [];
    }

    public function value(mixed $current, mixed $root): mixed
    {
        $nodes = $this->nodes($current, $root);

        return count($nodes) === 1 ? $nodes[0]->value : Nothing::Here;
    }
}
