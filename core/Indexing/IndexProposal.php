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
     */
    public function __construct(public string $table, public array $columns, public array $reasons, public int $times = 0, public int $milliseconds = 0)
    {
    }

    public function with(self $shorter): self
    {
        return new self($this->table, $this->columns, array_values(array_unique([...$this->reasons, ...$shorter->reasons])), $this->times + $shorter->times, $this->milliseconds + $shorter->milliseconds);
    }
}
