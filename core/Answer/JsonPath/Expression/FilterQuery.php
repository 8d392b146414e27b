<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;
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
    public function nodes(mixed $current, Evaluation $in): array
    {
        return $this->query->nodes($this->query->absolute ? $in->root : $current, $in);
    }

    public function holds(mixed $current, Evaluation $in): bool
    {
        return $this->nodes($current, $in) !== [];
    }

    public function value(mixed $current, Evaluation $in): mixed
    {
        $nodes = $this->nodes($current, $in);

        return count($nodes) === 1 ? $nodes[0]->value : Nothing::Here;
    }
}
