<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * any or all, over a collection.
 */
final readonly class Lambda implements Node
{
    public function __construct(private int $at, public Member $over, public bool $all, public string $variable, public ?Node $of)
    {
    }

    public function at(): int
    {
        return $this->at;
    }
}
