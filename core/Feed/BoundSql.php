<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * A condition of a statement, with a question mark for each value.
 */
final readonly class BoundSql
{
    /**
     * @param  list<string>  $values
     */
    public function __construct(public string $sql, public array $values)
    {
    }

    /**
     * All of some conditions; one that always holds where there are none.
     */
    public static function all(BoundSql ...$conditions): self
    {
        return $conditions === [] ? new self('1', []) : new self(implode(' AND ', array_map(static fn (BoundSql $one): string => "($one->sql)", $conditions)), array_merge(...array_map(static fn (BoundSql $one): array => $one->values, array_values($conditions))));
    }
}
