<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

/**
 * One thing wrong in a source file.
 */
final readonly class Fault
{
    public function __construct(
        /** Like `endpoints[2].onward.next`; empty for the document as a whole. */
        public string $path,
        public string $message,
        /** Counts from 1; null when the document did not come as text. */
        public ?int $line = null,
    ) {
    }

    public function at(?int $line): self
    {
        return new self($this->path, $this->message, $line);
    }

    public function __toString(): string
    {
        return ($this->line === null ? '' : "line {$this->line}, ").($this->path === '' ? '' : "{$this->path}: ").$this->message;
    }
}
