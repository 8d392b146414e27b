<?php

declare(strict_types=1);

namespace DeepSpring\OData\Pushdown;

/**
 * What became of a part of a query: asked of the service, or done here.
 */
final readonly class PushedPart
{
    public function __construct(
        public string $text,
        /** What the service is asked; null when it is done here. */
        public ?string $asked,
        /** Whether the service's answer is exactly what the database would give. */
        public bool $isExact,
        /** Why it is done here. */
        public string $why = '',
    ) {
    }
}
