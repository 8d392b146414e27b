<?php

declare(strict_types=1);

namespace DeepSpring\Indexing;

final readonly class ColumnFacts
{
    public function __construct(
        /** Of a value in the middle. */
        public float $bytes,
        /** Different values among the rows that were looked at. */
        public int $different,
        /** Whether a whole value fits into an index, so that it can be read from there. */
        public bool $isWhole = true,
        /** False for JSON. */
        public bool $canBeIndexed = true,
    ) {
    }
}
