<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * What rows are read from: a table or a statement in parentheses with a name, and the columns that it has.
 */
final readonly class RowSource
{
    /**
     * @param  BoundSql  $sql  what stands behind FROM
     * @param  list<FeedColumn>  $columns
     * @param  list<OrderPart>  $key  what tells its rows apart
     */
    public function __construct(public BoundSql $sql, public array $columns, public array $key)
    {
    }
}
