<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Run;
use App\Models\RunState;
use Illuminate\Contracts\Queue\ShouldQueue;
use Illuminate\Foundation\Queue\Queueable;

/**
 * A refresh in the queue. It carries the number of its run and nothing else.
 */
final class RefreshJob implements ShouldQueue
{
    use Queueable;

    public int $tries = 1;

    public function __construct(public readonly int $run)
    {
    }

    public function handle(Refresh $refresh): void
    {
        $run = Run::query()->find($this->run);
        if ($run !== null && $run->state === RunState::Queued) {
            $refresh->run($run);
        }
    }
}
