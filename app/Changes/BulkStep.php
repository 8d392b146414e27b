<?php

declare(strict_types=1);

namespace App\Changes;

use DeepSpring\Change\RecordChange;

/**
 * One row of a change in bulk: what would be changed, or why nothing is.
 */
final readonly class BulkStep
{
    /**
     * @param  RecordChange|null  $change  null where the row stays as it is
     * @param  array<string, string>  $key  of the record; empty for a new one
     * @param  array<string, string>  $faults  by column; "" for the whole
     */
    public function __construct(public ?RecordChange $change, public array $key, public array $faults)
    {
    }

    public function kind(): string
    {
        return match (true) {
            $this->faults !== [] => 'refused',
            $this->change === null => 'same',
            default => $this->change->kind->value,
        };
    }
}
