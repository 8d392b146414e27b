<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * A path with keys, functions or filters of the service in it, of which it is not known what it gives.
 */
final readonly class FilterReference implements FilterNode
{
    /**
     * @param  list<FilterNode>  $parts  what stands in parentheses on the way
     */
    public function __construct(private int $at, public array $parts)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
