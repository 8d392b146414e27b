<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

/**
 * A table that a statement reads, with what its columns hold.
 */
final readonly class ReadTable
{
    /**
     * @param  string  $alias  what its columns can be named with
     * @param  array<string, string>  $types  name of a column → type of a source file
     */
    public function __construct(public string $name, public string $alias, public array $types)
    {
    }
}
