<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Selector;

use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Answer\JsonPath\JsonNode;

/**
 * One member of an object (§2.3.1).
 */
final readonly class NameSelector implements Selector
{
    public function __construct(public string $name)
    {
    }

    public function select(JsonNode $node, Evaluation $in, array &$found): void
    {
        if ($node->value instanceof \stdClass && property_exists($node->value, $this->name)) {
            $found[] = new JsonNode($node->value->{$this->name}, $node->location->child($this->name));
        }
    }

    public function isSingular(): bool
    {
        return true;
    }
}
