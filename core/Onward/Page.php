<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

/**
 * An answer, as a pager sees it.
 */
final readonly class Page
{
    public function __construct(
        /** Counts from 1. */
        public int $number,
        public mixed $document,
        /** Records on this page. */
        public int $records,
        /** Records on all pages up to this one. */
        public int $recordsSoFar,
        /** The address it came from. */
        public string $uri,
        /** A hash of the records, to know a page that came before; empty when there are none. */
        public string $fingerprint,
        /** @var array<string, string> header lines by name in lower case */
        public array $headers = [],
        public int $status = 200,
        /** The last record on it. */
        public mixed $last = null,
    ) {
    }
}
