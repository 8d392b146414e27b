<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * any or all, over a collection.
 */
final readonly class FilterLambda implements FilterNode
{
    public function __construct(private int $at, public FilterMember|FilterReference $over, public bool $all, public string $variable, public ?FilterNode $of)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
