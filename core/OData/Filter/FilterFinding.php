<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

/**
 * What a service will likely refuse in a filter, and what would be right.
 */
final readonly class FilterFinding
{
    public function __construct(
        public string $sentence,
        /** Characters before the place. */
        public int $at,
        /** What to write in the place of what stands there. */
        public ?string $instead = null,
    ) {
    }
}
