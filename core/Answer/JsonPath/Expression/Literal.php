<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;

final readonly class Literal implements Comparable
{
    public function __construct(private string|int|float|bool|null $literal)
    {
    }

    public function value(mixed $current, Evaluation $in): string|int|float|bool|null
    {
        return $this->literal;
    }
}
