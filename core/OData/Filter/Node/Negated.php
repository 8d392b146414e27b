<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * not.
 */
final readonly class Negated implements Node
{
    public function __construct(private int $at, public Node $of)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
