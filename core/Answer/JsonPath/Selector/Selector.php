<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Selector;

use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Answer\JsonPath\JsonNode;

/**
 * Chooses children of a node (RFC 9535 §2.3).
 */
interface Selector
{
    /**
     * @param  list<JsonNode>  $found  chosen children are added at the end
     */
    public function select(JsonNode $node, Evaluation $in, array &$found): void;

    public function isSingular(): bool;
}
