<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * not.
 */
final readonly class FilterNegated implements FilterNode
{
    public function __construct(private int $at, public FilterNode $of)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
