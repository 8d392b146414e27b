<?php

declare(strict_types=1);

namespace App\Operations;

use Illuminate\Support\Facades\DB;

/**
 * Puts right what a clock that was ahead has left behind: locks and jobs that would wait until that
 * time comes round again. Pace, runs, tokens and links look after themselves where they are read.
 */
final readonly class Clock
{
    /** Seconds that a lock of the cache can be held; none is taken for longer. */
    private const LOCK = 7200;

    /** Seconds that a job can be put off. */
    private const JOB = 600;

    public function right(): void
    {
        $now = time();
        DB::table('cache_locks')->where('expiration', '>', $now + self::LOCK)->delete();
        DB::table('jobs')->whereNull('reserved_at')->where('available_at', '>', $now + self::JOB)->update(['available_at' => $now]);
        DB::table('pace_readers')->where('seen_at', '>', $now + 60)->delete();
        DB::table('statement_turns')->where('seen_at', '>', $now + 60)->delete();
        DB::table('open_sessions')->where('seen_at', '>', now()->addDay())->update(['seen_at' => now()]);
    }
}
