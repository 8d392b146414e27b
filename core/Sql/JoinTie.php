<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * Columns of two tables that hold the same.
 */
final readonly class JoinTie
{
    /**
     * @param  list<array{string, string}>  $pairs  column here, column there
     * @param  string  $why  in a few words
     */
    public function __construct(public string $other, public array $pairs, public string $why)
    {
    }
}
