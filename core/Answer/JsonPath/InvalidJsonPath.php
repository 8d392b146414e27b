<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

/**
 * A text that is not a well-formed and valid JSONPath (RFC 9535 §2.1), with the place of the fault.
 */
final class InvalidJsonPath extends \InvalidArgumentException
{
    private function __construct(
        public readonly string $path,
        /** Offset of the fault in bytes, from 0. */
        public readonly int $position,
        public readonly string $reason,
    ) {
        $shown = mb_strlen(substr($path, 0, $position), 'UTF-8') + 1;

        parent::__construct("$reason (at character $shown of the path).");
    }

    public static function at(string $path, int $position, string $reason): self
    {
        return new self($path, $position, $reason);
    }
}
