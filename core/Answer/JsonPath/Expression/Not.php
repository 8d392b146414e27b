<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

final readonly class Not implements Logical
{
    public function __construct(private Logical $part)
    {
    }

    public function holds(mixed $current, mixed $root): bool
    {
        return ! $this->part->holds($current, $root);
    }
}
