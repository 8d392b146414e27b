<?php

declare(strict_types=1);

namespace DeepSpring\Indexing;

final readonly class IndexProposal
{
    /**
     * @param  list<string>  $columns
     * @param  list<string>  $reasons  a sentence each
     * @param  int  $times  statements that it is proposed for
     * @param  int  $milliseconds  that they took together
     * @param  bool  $endsWithKey  whether it serves by the key that follows the columns in every index, so that one with more columns does not
     */
    public function __construct(public string $table, public array $columns, public array $reasons, public int $times = 0, public int $milliseconds = 0, public bool $endsWithKey = false)
    {
    }

    public function with(self $other): self
    {
        return new self($this->table, $this->columns, array_values(array_unique([...$this->reasons, ...$other->reasons])), $this->times + $other->times, $this->milliseconds + $other->milliseconds, $this->endsWithKey || $other->endsWithKey);
    }

    /**
     * Whether an index over these columns serves as well.
     *
     * @param  list<string>  $columns
     */
    public function isServedBy(array $columns): bool
    {
        return array_slice($columns, 0, count($this->columns)) === $this->columns && (! $this->endsWithKey || count($columns) === count($this->columns));
    }
}
