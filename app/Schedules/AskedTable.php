<?php

declare(strict_types=1);

namespace App\Schedules;

use Illuminate\Support\Carbon;

/**
 * A table whose rows a statement found too old, and what was done about it.
 */
final readonly class AskedTable
{
    /**
     * @param  Carbon  $refreshed  when its rows were read, before
     * @param  string  $olderThan  ISO 8601 duration
     * @param  int|null  $run  that reads it anew; null where none was begun
     * @param  bool  $isRenewed  whether the statement saw the new rows
     * @param  string|null  $reason  why none was begun, or why the new rows were not seen
     */
    public function __construct(public string $table, public Carbon $refreshed, public string $olderThan, public ?int $run, public bool $isRenewed = false, public ?string $reason = null)
    {
    }

    /**
     * "loans: its rows are 3 h 5 min old, and are to be read anew after 2 h. Run 12 reads them now."
     */
    public function sentence(): string
    {
        $age = Age::words((int) abs($this->refreshed->diffInSeconds(Carbon::now())));
        $allowed = Age::words((int) Carbon::now()->diffInSeconds(Carbon::now()->add(new \DateInterval($this->olderThan))));
        if ($this->isRenewed) {
            return "{$this->table} was refreshed first, by run {$this->run}: its rows were $age old, and are to be read anew after $allowed.";
        }
        $then = match (true) {
            $this->run === null => ucfirst((string) $this->reason).'.',
            $this->reason === null => "Run {$this->run} reads them now; these are still the old ones.",
            default => "Run {$this->run} was waited for: {$this->reason}, so these are still the old ones.",
        };

        return "{$this->table}: its rows are $age old, and are to be read anew after $allowed. $then";
    }
}
