<?php

declare(strict_types=1);

namespace DeepSpring\Flatten;

/**
 * A value, or a record, that did not fit.
 */
final readonly class Reject
{
    public function __construct(
        public string $table,
        public string $column,
        /** Place of the record among those of its page, from 0. */
        public int $record,
        /** JSONPath of the value inside its record. */
        public string $path,
        /** The value as JSON, cut to 500 characters. */
        public string $value,
        public string $reason,
        public bool $wholeRecord,
    ) {
    }
}
