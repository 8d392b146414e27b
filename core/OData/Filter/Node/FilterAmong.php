<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * in: one of a list.
 */
final readonly class FilterAmong implements FilterNode
{
    /**
     * @param  list<FilterNode>  $items
     */
    public function __construct(private int $at, public FilterNode $left, public array $items)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
