<?php

declare(strict_types=1);

namespace App\Schedules;

use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\Schedule;
use App\Runs\BegunBy;
use App\Runs\Runs;
use App\Runs\RunWish;
use Illuminate\Support\Facades\DB;

/**
 * Begins what is read after another table: once for each refresh of it that succeeded.
 */
final readonly class FollowingRefreshes
{
    private const AT_ONCE = 200;

    /** Of a transaction that the database ended because it stood in the way of another. */
    private const ATTEMPTS = 4;

    public function __construct(private Runs $runs)
    {
    }

    /**
     * @return int refreshes begun
     */
    public function begin(): int
    {
        $done = Run::query()->where('followed', false)->where('state', RunState::Done)->whereIn('kind', ['refresh', 'rebuild'])->orderBy('id')->limit(self::AT_ONCE)->get();
        if ($done->isEmpty()) {
            return 0;
        }
        $schedules = Schedule::query()->with(['endpoint.source', 'environment'])->whereNull('paused_at')->get()->filter(static fn (Schedule $one): bool => ($one->refresh['after'] ?? []) !== []);
        $begun = 0;
        foreach ($done as $run) {
            $begun += DB::transaction(fn (): int => $this->after($run, $schedules->where('environment_id', $run->environment_id)->all()), self::ATTEMPTS);
        }

        return $begun;
    }

    /**
     * @param  array<array-key, Schedule>  $schedules
     */
    private function after(Run $run, array $schedules): int
    {
        if (DB::table('runs')->where('id', $run->id)->where('followed', false)->update(['followed' => true]) !== 1) {
            return 0;
        }
        $tables = $schedules === [] ? [] : KeptTable::query()->where(['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id])->pluck('name')->map(strval(...))->all();
        $begun = 0;
        foreach ($schedules as $schedule) {
            $table = array_values(array_intersect($schedule->refresh['after'], $tables))[0] ?? null;
            if ($table === null || $schedule->endpoint_id === $run->endpoint_id) {
                continue;
            }
            if (in_array($schedule->endpoint_id, $run->chain ?? [], true)) {
                $this->note($run, "{$schedule->endpoint->name} is to be read after $table, and its own refresh led to this one, so it is not read again.");

                continue;
            }
            $next = $this->runs->queue($schedule->endpoint, $schedule->environment, null, new RunWish(begunBy: BegunBy::refreshOf($table, $run)));
            $begun += $next->wasRecentlyCreated ? 1 : 0;
            $this->note($run, $next->wasRecentlyCreated ? "After it, {$schedule->endpoint->name} is read: run {$next->id}." : "{$schedule->endpoint->name} is to be read after $table, and is being read already: run {$next->id}.");
        }

        return $begun;
    }

    private function note(Run $run, string $text): void
    {
        RunEvent::query()->insert(['run_id' => $run->id, 'level' => 2, 'at' => microtime(true), 'page' => null, 'kind' => 'after', 'text' => mb_substr($text, 0, 1000)]);
    }
}
