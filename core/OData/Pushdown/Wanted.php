<?php

declare(strict_types=1);

namespace DeepSpring\OData\Pushdown;

/**
 * One condition of a query on a column, all of which must hold.
 */
final readonly class Wanted
{
    /**
     * @param  string  $operator  =, <>, <, <=, >, >=, like, in, between, is null, is not null; any: one of several conditions on the column
     * @param  list<string>  $values  as SQL has them, without quotes
     * @param  list<self>  $any  of which one is enough
     */
    public function __construct(public string $column, public string $operator, public array $values, public string $text, public array $any = [])
    {
    }
}
