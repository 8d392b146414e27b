<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Selector;

use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Answer\JsonPath\JsonNode;

/**
 * All elements of an array, all members of an object (§2.3.2).
 */
final readonly class WildcardSelector implements Selector
{
    public function select(JsonNode $node, Evaluation $in, array &$found): void
    {
        $in->visit(is_array($node->value) ? count($node->value) : 1);
        if (is_array($node->value)) {
            foreach ($node->value as $index => $value) {
                $found[] = new JsonNode($value, $node->location->child((int) $index));
            }
        } elseif ($node->value instanceof \stdClass) {
            foreach (get_object_vars($node->value) as $name => $value) {
                $found[] = new JsonNode($value, $node->location->child((string) $name));
            }
        }
    }

    public function isSingular(): bool
    {
        return false;
    }
}
