<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * A path of properties and navigation, with the variable of a lambda as its first step where it has one.
 */
final readonly class FilterMember implements FilterNode
{
    /**
     * @param  non-empty-list<string>  $steps
     */
    public function __construct(private int $at, public array $steps)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
