<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * The records of one answer, or of a part of a large one, with what is known beside them.
 */
final class RecordPage
{
    private ?Digits $digits = null;

    /**
     * @param  list<mixed>  $values
     * @param  mixed  $envelope  the whole answer; of a large one, what is around its records
     * @param  list<string>|null  $members  names under which the records stand, where they are members of an object
     * @param  (\Closure(): Digits)|null  $source  the same records with numbers as they were written; null where they are not known
     * @param  bool  $hasUnusualNumbers  whether some number may be written so that decoding changes it: with more digits than a float keeps, beyond its range, minus zero
     * @param  array<int, string>  $refused  places of records that must not become rows, and why
     */
    public function __construct(
        public array $values,
        public mixed $envelope = null,
        public ?array $members = null,
        private readonly ?\Closure $source = null,
        public readonly bool $hasUnusualNumbers = false,
        public readonly array $refused = [],
    ) {
    }

    /**
     * The same records with another envelope around them.
     */
    public function within(mixed $envelope): self
    {
        return new self($this->values, $envelope, $this->members, $this->source, $this->hasUnusualNumbers, $this->refused);
    }

    /**
     * A record with the digits of its numbers as they were written.
     *
     * @return array{mixed, Digits}|null null where they are not known
     */
    public function exact(int $index): ?array
    {
        if ($this->source === null) {
            return null;
        }
        $this->digits ??= ($this->source)();

        return [$this->digits->record($index), $this->digits];
    }
}
