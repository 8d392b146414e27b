<?php

declare(strict_types=1);

namespace DeepSpring\OData\Pushdown;

/**
 * One condition of a query on a column, all of which must hold.
 */
final readonly class Wanted
{
    /**
     * @param  string  $operator  =, <>, <, <=, >, >=, like, in, between, is null, is not null
     * @param  list<string>  $values  as SQL has them, without quotes
     */
    public function __construct(public string $column, public string $operator, public array $values, public string $text)
    {
    }
}
