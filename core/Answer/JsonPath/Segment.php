<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

use DeepSpring\Answer\JsonPath\Selector\Selector;

/**
 * One step of a query: selectors applied to the children of a node, or to it and all its descendants.
 */
final readonly class Segment
{
    /**
     * @param  non-empty-list<Selector>  $selectors
     */
    public function __construct(public array $selectors, public bool $descendant)
    {
    }

    /**
     * Whether it finds at most one node (RFC 9535 §2.3.5.1).
     */
    public function isSingular(): bool
    {
        return ! $this->descendant && count($this->selectors) === 1 && $this->selectors[0]->isSingular();
    }

    /**
     * @param  list<JsonNode>  $nodes
     * @return list<JsonNode>
     */
    public function apply(array $nodes, Evaluation $in): array
    {
        $found = [];
        foreach ($nodes as $node) {
            if ($this->descendant) {
                $this->descend($node, $in, $found);
            } else {
                $this->select($node, $in, $found);
            }
            $in->hold(count($found));
        }

        return $found;
    }

    /**
     * @param  list<JsonNode>  $found
     */
    private function select(JsonNode $node, Evaluation $in, array &$found): void
    {
        foreach ($this->selectors as $selector) {
            $selector->select($node, $in, $found);
        }
    }

    /**
     * @param  list<JsonNode>  $found
     */
    private function descend(JsonNode $node, Evaluation $in, array &$found): void
    {
        $this->select($node, $in, $found);
        $in->visit(1);
        $in->hold(count($found), Evaluation::MOST_DESCENDED);
        if (is_array($node->value) || $node->value instanceof \stdClass) {
            foreach ((array) $node->value as $step => $value) {
                $step = is_object($node->value) ? (string) $step : (int) $step;
                $this->descend(new JsonNode($value, $node->location->child($step)), $in, $found);
            }
        }
    }
}
