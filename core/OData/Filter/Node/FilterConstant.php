<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * A literal, as it is written.
 */
final readonly class FilterConstant implements FilterNode
{
    public function __construct(private int $at, public string $text, public string $type)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
