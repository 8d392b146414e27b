<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * add, sub, mul, div, divby, mod, and the minus before a term.
 */
final readonly class FilterArithmetic implements FilterNode
{
    public function __construct(private int $at, public string $operator, public FilterNode $left, public ?FilterNode $right)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
