<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;

final readonly class Not implements Logical
{
    public function __construct(private Logical $part)
    {
    }

    public function holds(mixed $current, Evaluation $in): bool
    {
        return ! $this->part->holds($current, $in);
    }
}
