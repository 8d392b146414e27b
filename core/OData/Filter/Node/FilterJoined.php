<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * and, or.
 */
final readonly class FilterJoined implements FilterNode
{
    public function __construct(private int $at, public string $operator, public FilterNode $left, public FilterNode $right)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
