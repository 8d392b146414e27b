<?php

declare(strict_types=1);

namespace DeepSpring\Indexing;

/**
 * Statements that use a table in the same way.
 */
final readonly class UseCount
{
    public function __construct(
        public TableUse $use,
        public int $times,
        /** Of all of them together. */
        public int $milliseconds,
    ) {
    }

    public function middle(): float
    {
        return $this->milliseconds / max(1, $this->times);
    }
}
