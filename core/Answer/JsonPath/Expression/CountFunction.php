<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;

/**
 * count(): how many nodes a query finds (RFC 9535 §2.4.5).
 */
final readonly class CountFunction implements Comparable
{
    public function __construct(private FilterQuery $nodes)
    {
    }

    public function value(mixed $current, Evaluation $in): int
    {
        return count($this->nodes->nodes($current, $in));
    }
}
