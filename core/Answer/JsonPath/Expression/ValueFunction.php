<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

/**
 * value(): the value of the one node that a query finds (RFC 9535 §2.4.8).
 */
final readonly class ValueFunction implements Comparable
{
    public function __construct(private FilterQuery $nodes)
    {
    }

    public function value(mixed $current, mixed $root): mixed
    {
        return $this->nodes->value($current, $root);
    }
}
