<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter\Node;

/**
 * One part of a filter. Each says where it begins: the characters before it.
 */
interface FilterNode
{
    public function at(): int;
}
