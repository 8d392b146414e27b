<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * A staged table that one statement may read.
 */
final readonly class LentTable
{
    public function __construct(
        /** What a reader's account has to be granted. */
        public string $granted,
        /** A common table expression by which a statement sees it under its own name. */
        public string $expression,
    ) {
    }
}
