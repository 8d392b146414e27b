<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;

/**
 * value(): the value of the one node that a query finds (RFC 9535 §2.4.8).
 */
final readonly class ValueFunction implements Comparable
{
    public function __construct(private FilterQuery $nodes)
    {
    }

    public function value(mixed $current, Evaluation $in): mixed
    {
        return $this->nodes->value($current, $in);
    }
}
