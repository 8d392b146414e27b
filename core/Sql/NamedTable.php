<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * A table where a statement names it to read it.
 */
final readonly class NamedTable
{
    /**
     * @param  string  $alias  what its columns can be named with; the name itself where none is given
     * @param  int  $at  bytes before its name
     */
    public function __construct(public string $name, public string $alias, public int $at, public ?string $schema = null)
    {
    }
}
