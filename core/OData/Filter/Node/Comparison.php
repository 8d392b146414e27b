<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * eq, ne, gt, ge, lt, le, has.
 */
final readonly class Comparison implements Node
{
    public function __construct(private int $at, public string $operator, public Node $left, public Node $right)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
