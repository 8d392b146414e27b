<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

final readonly class Literal implements Comparable
{
    public function __construct(private string|int|float|bool|null $literal)
    {
    }

    public function value(mixed $current, mixed $root): string|int|float|bool|null
    {
        return $this->literal;
    }
}
