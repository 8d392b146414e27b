<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;

/**
 * ValueType of RFC 9535 §2.4.1: a JSON value, or `Nothing::Here`.
 */
interface Comparable
{
    public function value(mixed $current, Evaluation $in): mixed;
}
