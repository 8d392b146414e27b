<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

final readonly class JsonPathToken
{
    public function __construct(
        public JsonPathTokenKind $kind,
        /** What was written; for a string, what it means once unescaped. */
        public string $text,
        /** Offset in bytes, from 0. */
        public int $position,
        /** Whether blank space stands before it: some places allow none. */
        public bool $spaced,
    ) {
    }
}
