<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * What is wrong with a statement, in plain words, and where.
 */
final readonly class StatementFault
{
    /**
     * @param  int|null  $at  bytes before what is wrong; null where that is not known
     * @param  int  $length  of it, in bytes
     * @param  string|null  $instead  what may have been meant in its place
     */
    public function __construct(public string $sentence, public ?int $at = null, public int $length = 0, public ?string $instead = null)
    {
    }

    /**
     * The line that it is in, counted from 1.
     */
    public function line(string $sql): ?int
    {
        return $this->at === null ? null : substr_count($sql, "\n", 0, min($this->at, strlen($sql))) + 1;
    }
}
