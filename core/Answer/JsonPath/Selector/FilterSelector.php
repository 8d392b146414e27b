<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Selector;

use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Answer\JsonPath\Expression\Logical;
use DeepSpring\Answer\JsonPath\JsonNode;

/**
 * The children for which an expression is true (§2.3.5).
 */
final readonly class FilterSelector implements Selector
{
    private WildcardSelector $children;

    public function __construct(public Logical $test)
    {
        $this->children = new WildcardSelector;
    }

    public function select(JsonNode $node, Evaluation $in, array &$found): void
    {
        $children = [];
        $this->children->select($node, $in, $children);
        foreach ($children as $child) {
            if ($this->test->holds($child->value, $in)) {
                $found[] = $child;
            }
        }
    }

    public function isSingular(): bool
    {
        return false;
    }
}
