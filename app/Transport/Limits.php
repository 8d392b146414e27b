<?php

declare(strict_types=1);

namespace App\Transport;

final readonly class Limits
{
    public function __construct(
        /** Seconds for one attempt. */
        public int $timeout,
        /** Attempts for one request. */
        public int $tries,
        /** Bytes of a body after decompression. */
        public int $bytes,
        /** Whether redirects are followed to another origin, without anything that says who is asking. */
        public bool $anywhere = false,
    ) {
    }
}
