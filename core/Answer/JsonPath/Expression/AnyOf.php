<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

use DeepSpring\Answer\JsonPath\Evaluation;

final readonly class AnyOf implements Logical
{
    /**
     * @param  non-empty-list<Logical>  $parts
     */
    public function __construct(private array $parts)
    {
    }

    public function holds(mixed $current, Evaluation $in): bool
    {
        foreach ($this->parts as $part) {
            if ($part->holds($current, $in)) {
                return true;
            }
        }

        return false;
    }
}
