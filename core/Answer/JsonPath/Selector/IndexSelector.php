<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Selector;

use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Answer\JsonPath\JsonNode;

/**
 * One element of an array, counted from the end when negative (§2.3.3).
 */
final readonly class IndexSelector implements Selector
{
    public function __construct(public int $index)
    {
    }

    public function select(JsonNode $node, Evaluation $in, array &$found): void
    {
        if (! is_array($node->value)) {
            return;
        }
        $index = $this->index < 0 ? count($node->value) + $this->index : $this->index;
        if ($index >= 0 && $index < count($node->value)) {
            $found[] = new JsonNode($node->value[$index], $node->location->child($index));
        }
    }

    public function isSingular(): bool
    {
        return true;
    }
}
