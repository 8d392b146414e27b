<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Expression;

final readonly class AnyOf implements Logical
{
    /**
     * @param  non-empty-list<Logical>  $parts
     */
    public function __construct(private array $parts)
    {
    }

    public function holds(mixed $current, mixed $root): bool
    {
        foreach ($this->parts as $part) {
            if ($part->holds($current, $root)) {
                return true;
            }
        }

        return false;
    }
}
