<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Run;

/**
 * What began a run, where that was no person.
 */
final readonly class BegunBy
{
    /**
     * @param  string  $words  "the schedule", "the refresh of borrowers"
     * @param  list<int>  $chain  endpoints whose refreshes led to it, the first one first
     */
    private function __construct(public string $words, public array $chain = [])
    {
    }

    /**
     * @param  string|null  $late  what is to be said of it, when it comes late
     */
    public static function schedule(?string $late = null): self
    {
        return new self('the schedule'.($late === null ? '' : ", $late"));
    }

    /**
     * When all of a table is read of which usually only changes are.
     *
     * @param  string|null  $late  what is to be said of it, when it comes late
     */
    public static function sweep(?string $late = null): self
    {
        return new self('the schedule, for all of it'.($late === null ? '' : ", $late"));
    }

    public static function refreshOf(string $table, Run $run): self
    {
        return new self("the refresh of $table", [...($run->chain ?? []), $run->endpoint_id]);
    }

    /**
     * @param  string  $age  of the rows, as "3 h"
     */
    public static function statement(string $table, string $age): self
    {
        return new self("a reader of $table, whose rows were $age old");
    }
}
