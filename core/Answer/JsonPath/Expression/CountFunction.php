<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

/**
 * count(): how many nodes a query finds (RFC 9535 §2.4.5).
 */
final readonly class CountFunction implements Comparable
{
    public function __construct(private FilterQuery $nodes)
    {
    }

    public function value(mixed $current, mixed $root): int
    {
        return count($this->nodes->nodes($current, $root));
    }
}
