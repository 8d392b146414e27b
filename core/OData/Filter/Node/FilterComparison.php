<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * eq, ne, gt, ge, lt, le, has.
 */
final readonly class FilterComparison implements FilterNode
{
    public function __construct(private int $at, public string $operator, public FilterNode $left, public FilterNode $right)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
