<?php

declare(strict_types=1);

namespace DeepSpring\Access;

/**
 * Something odd about a base address.
 */
final readonly class AddressFinding
{
    public function __construct(
        /** Stable, for programs and tests. */
        public string $code,
        public string $sentence,
        /** The address that was probably meant. */
        public ?string $instead = null,
        /** Whether the address cannot be used as it stands. */
        public bool $blocks = false,
    ) {
    }
}
