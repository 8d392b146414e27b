<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Value\JsonText;

final readonly class Literal implements Comparable
{
    public function __construct(private string|int|float|bool|JsonText|null $literal)
    {
    }

    public function value(mixed $current, Evaluation $in): string|int|float|bool|JsonText|null
    {
        return $this->literal;
    }
}
