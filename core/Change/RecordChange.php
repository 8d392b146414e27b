<?php

declare(strict_types=1);

namespace DeepSpring\Change;

/**
 * One change of one record, as somebody wants it.
 */
final readonly class RecordChange
{
    /**
     * @param  array<string, string|null>  $before  the row that the person saw, column → value as the database holds it; empty for a new record
     * @param  array<string, string|null>  $after  what it shall be, of the columns that change
     * @param  array<string, string>  $given  inputs of an action that a person filled
     * @param  int  $action  which one, of those of the table
     * @param  string  $mark  by which a service tells a repetition from a second request
     */
    public function __construct(public RecordAct $kind, public array $before, public array $after = [], public array $given = [], public int $action = 0, public string $mark = '')
    {
    }
}
