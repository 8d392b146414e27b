<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * A function.
 */
final readonly class FilterCall implements FilterNode
{
    /**
     * @param  list<FilterNode>  $arguments
     */
    public function __construct(private int $at, public string $name, public array $arguments)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
