<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * What an index would cost, as it was measured on some of the rows and reckoned for all of them.
 */
final readonly class IndexCost
{
    public function __construct(
        /** Rows that it was measured with. */
        public int $measured,
        public int $bytes,
        /** That building it takes, with each refresh. */
        public int $milliseconds,
    ) {
    }
}
