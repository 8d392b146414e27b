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
        /** Empty when it is about a whole record. */
        public string $column,
        /** Place of the record among those of its page, from 0. */
        public int $record,
        /** JSONPath of the value inside its record, or where else it comes from. */
        public string $path,
        /** The value as JSON, cut to 500 characters; of a masked column, that it is masked. */
        public string $value,
        public string $reason,
        public bool $wholeRecord,
        /** The key of the row it belongs to, as "name=value, …"; empty where there is none. */
        public string $key = '',
    ) {
    }
}
