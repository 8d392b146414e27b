<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;

/**
 * LogicalType of RFC 9535 §2.4.1: true or false for a current node.
 */
interface Logical
{
    public function holds(mixed $current, Evaluation $in): bool;
}
