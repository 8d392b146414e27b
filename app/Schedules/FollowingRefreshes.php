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
        $waiting = $this->waiting($run, $tables, $schedules);
        foreach ($schedules as $schedule) {
            $table = array_values(array_intersect($schedule->refresh['after'], $tables))[0] ?? null;
            if ($table === null || $schedule->endpoint_id === $run->endpoint_id) {
                continue;
            }
            if (in_array($schedule->endpoint_id, $run->chain ?? [], true)) {
                $this->note($run, "{$schedule->endpoint->name} is to be read after $table, and its own refresh led to this one, so it is not read again.");

                continue;
            }
            if (isset($waiting[$schedule->id])) {
                $this->note($run, "{$schedule->endpoint->name} is to be read after $table and after {$waiting[$schedule->id]}, which follows it, so it is read after that.");

                continue;
            }
            $next = $this->runs->queue($schedule->endpoint, $schedule->environment, null, new RunWish(begunBy: BegunBy::refreshOf($table, $run)));
            $begun += $next->wasRecentlyCreated ? 1 : 0;
            $this->note($run, $next->wasRecentlyCreated ? "After it, {$schedule->endpoint->name} is read: run {$next->id}." : "{$schedule->endpoint->name} is to be read after $table, and is being read already: run {$next->id}.");
        }

        return $begun;
    }

    /**
     * Those that read something else that follows the same refresh too: they come after that, once.
     *
     * @param  list<string>  $tables  that were refreshed
     * @param  array<array-key, Schedule>  $schedules
     * @return array<int, string> id of a schedule → the table that it waits for
     */
    private function waiting(Run $run, array $tables, array $schedules): array
    {
        $begun = array_filter($schedules, static fn (Schedule $one): bool => $one->endpoint_id !== $run->endpoint_id
            && ! in_array($one->endpoint_id, $run->chain ?? [], true) && array_intersect($one->refresh['after'], $tables) !== []);
        if (count($begun) < 2) {
            return [];
        }
        $made = KeptTable::query()->where('environment_id', $run->environment_id)->whereIn('endpoint_id', array_map(static fn (Schedule $one): int => $one->endpoint_id, $schedules))->get(['endpoint_id', 'name'])
            ->groupBy('endpoint_id')->map(static fn ($some): array => $some->pluck('name')->map(strval(...))->all())->all();
        $waiting = [];
        foreach ($begun as $at => $one) {
            $first = array_values(array_intersect($one->refresh['after'], self::fed(array_diff_key($begun, [$at => true]), $one, $schedules, $made)))[0] ?? null;
            if ($first !== null) {
                $waiting[$one->id] = $first;
                // Of two that read each other one has to begin.
                unset($begun[$at]);
            }
        }

        return $waiting;
    }

    /**
     * Tables that will be refreshed because these are.
     *
     * @param  array<array-key, Schedule>  $begun
     * @param  array<array-key, Schedule>  $schedules
     * @param  array<int, list<string>>  $made  tables by endpoint
     * @return list<string>
     */
    private static function fed(array $begun, Schedule $without, array $schedules, array $made): array
    {
        $fed = [];
        $seen = [$without->id => true];
        while ($begun !== []) {
            $one = array_shift($begun);
            if (! isset($seen[$one->id])) {
                $seen[$one->id] = true;
                array_push($fed, ...($made[$one->endpoint_id] ?? []));
                array_push($begun, ...array_filter($schedules, static fn (Schedule $other): bool => array_intersect($other->refresh['after'], $made[$one->endpoint_id] ?? []) !== []));
            }
        }

        return $fed;
    }

    private function note(Run $run, string $text): void
    {
        RunEvent::query()->insert(['run_id' => $run->id, 'level' => 2, 'at' => microtime(true), 'page' => null, 'kind' => 'after', 'text' => mb_substr($text, 0, 1000)]);
    }
}
