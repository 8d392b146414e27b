<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\ChangeSet;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/**
 * A set of changes in the queue. It carries its number and nothing else.
 */
final class ChangeJob implements ShouldQueue
{
    use Queueable;

    public int $tries = 1;

    public function __construct(public readonly int $set)
    {
    }

    public function handle(Courier $courier): void
    {
        $set = ChangeSet::query()->with('endpoint.source', 'environment', 'user')->find($this->set);
        $set === null || $courier->run($set);
    }
}
