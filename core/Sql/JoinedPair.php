<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * Two tables that a statement joins, by columns that have to be equal.
 */
final readonly class JoinedPair
{
    /**
     * @param  list<array{string, string}>  $columns  of the one, and of the other
     * @param  bool  $keepsLeft  whether rows of the one stay that have no match
     * @param  bool  $keepsRight  the same for the other
     */
    public function __construct(public NamedTable $left, public NamedTable $right, public array $columns, public bool $keepsLeft, public bool $keepsRight)
    {
    }

    /**
     * The same, seen from the other table.
     */
    public function turned(): self
    {
        return new self($this->right, $this->left, array_map(static fn (array $pair): array => [$pair[1], $pair[0]], $this->columns), $this->keepsRight, $this->keepsLeft);
    }
}
