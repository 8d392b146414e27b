<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Selector;

use DeepSpring\Answer\JsonPath\JsonNode;

/**
 * Chooses children of a node (RFC 9535 §2.3).
 */
interface Selector
{
    /**
     * @param  list<JsonNode>  $found  chosen children are added at the end
     */
    public function select(JsonNode $node, mixed $root, array &$found): void;

    public function isSingular(): bool;
}
