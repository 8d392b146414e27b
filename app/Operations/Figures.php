<?php

declare(strict_types=1);

namespace App\Operations;

use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Queue;

/**
 * What there is to count of the whole installation.
 */
final readonly class Figures
{
    /**
     * @return list<array{string, string, array<string, string>, int|float}> name, what it is, labels, value
     */
    public function all(): array
    {
        $figures = [];
        foreach (DB::table('runs')->selectRaw('state, count(*) as n, coalesce(sum(`rows`), 0) as kept, coalesce(sum(waited), 0) as waited, coalesce(sum(retries), 0) as again')->groupBy('state')->get() as $row) {
            $labels = ['state' => (string) $row->state];
            $figures[] = ['spring_runs', 'Runs that are kept, by state', $labels, (int) $row->n];
            $figures[] = ['spring_run_rows', 'Rows that runs made', $labels, (int) $row->kept];
            $figures[] = ['spring_run_waited_seconds', 'Seconds that runs waited for a source', $labels, round((int) $row->waited / 1000, 3)];
            $figures[] = ['spring_run_retries', 'Requests that were sent again', $labels, (int) $row->again];
        }
        $failed = DB::table('runs')->join('endpoints', 'endpoints.id', '=', 'runs.endpoint_id')->join('sources', 'sources.id', '=', 'endpoints.source_id')
            ->where('runs.state', 'failed')->selectRaw('sources.slug as source, count(*) as n')->groupBy('sources.slug')->get();
        foreach ($failed as $row) {
            $figures[] = ['spring_failed_runs', 'Runs that failed, by source', ['source' => (string) $row->source], (int) $row->n];
        }
        $figures[] = ['spring_queue_jobs', 'Jobs that wait for a worker', [], Queue::pendingSize()];
        $figures[] = ['spring_queue_oldest_seconds', 'Seconds that the oldest of them has waited', [], $this->oldestJob()];
        $figures[] = ['spring_tables', 'Tables that are kept', [], DB::table('kept_tables')->count()];
        $figures[] = ['spring_table_rows', 'Rows in them', [], (int) DB::table('kept_tables')->sum('rows')];
        $figures[] = ['spring_people', 'People who can sign in', [], DB::table('users')->whereNull('off_at')->count()];
        $figures[] = ['spring_open_breakers', 'Sources that get no requests for now', [], DB::table('paces')->where('breaker', 'open')->count()];

        return $figures;
    }

    /**
     * Seconds; nought when nothing waits, or where the queue does not say.
     */
    public function oldestJob(): int
    {
        $at = Queue::creationTimeOfOldestPendingJob();

        return $at === null ? 0 : max(0, time() - (int) $at);
    }
}
