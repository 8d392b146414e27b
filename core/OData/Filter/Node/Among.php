<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * in: one of a list.
 */
final readonly class Among implements Node
{
    /**
     * @param  list<Node>  $items
     */
    public function __construct(private int $at, public Node $left, public array $items)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
