<?php

declare(strict_types=1);

namespace App\Schedules;

use App\Models\RunEvent;
use App\Models\Schedule;
use App\Runs\BegunBy;
use App\Runs\Runs;
use App\Runs\RunWish;
use DeepSpring\Schedule\CronTimes;
use DeepSpring\Schedule\InvalidSchedule;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;
use Illuminate\Support\Collection;
use Illuminate\Support\Facades\DB;

/**
 * Begins what is due. A time that passed while nothing ran is caught up once, however many there were.
 */
final readonly class DueRefreshes
{
    /** Schedules taken in one go. */
    private const AT_ONCE = 500;

    /** Of a transaction that the database ended because it stood in the way of another. */
    private const ATTEMPTS = 4;

    /** Seconds after which it is said that a refresh comes late. */
    private const LATE = 120;

    /** Times that are counted among those that were missed. */
    private const COUNTED = 1000;

    public function __construct(private Runs $runs)
    {
    }

    /**
     * @return int refreshes begun
     */
    public function begin(): int
    {
        $now = Carbon::now();
        $at = $now->format('Y-m-d H:i:s');
        /** @var Collection<int, Schedule> $due */
        $due = Schedule::query()->with(['endpoint.source', 'environment'])->where('paused_at', null)->where(static fn (Builder $either) => $either->where('next_at', '<=', $at)->orWhere('sweep_at', '<=', $at))
            ->orderByRaw('least(coalesce(next_at, sweep_at), coalesce(sweep_at, next_at)), id')->limit(self::AT_ONCE)->get();
        $begun = 0;
        foreach ($this->inTurn($due) as $schedule) {
            try {
                $begun += $this->take($schedule, $now) ? 1 : 0;
            } catch (InvalidSchedule|\LogicException $unusable) {
                // One that cannot be followed holds up none of the others.
                report($unusable);
                Schedule::query()->whereKey($schedule->id)->update(['next_at' => null, 'sweep_at' => null]);
            }
        }

        return $begun;
    }

    /**
     * The sources in turn, so that one with many tables does not keep all workers waiting for its pace.
     *
     * @param  Collection<int, Schedule>  $due
     * @return list<Schedule>
     */
    private function inTurn(Collection $due): array
    {
        $turn = [];
        $order = [];
        foreach ($due->values() as $place => $schedule) {
            $source = $schedule->endpoint->source_id;
            $turn[$source] = ($turn[$source] ?? -1) + 1;
            $order[] = [$turn[$source], $place, $schedule];
        }
        usort($order, static fn (array $one, array $other): int => [$one[0], $one[1]] <=> [$other[0], $other[1]]);

        return array_column($order, 2);
    }

    /**
     * The next times and the run in one transaction: of several schedulers one succeeds, and one that dies in
     * between has done neither. Where changes and all of it are due at once, all of it is read.
     */
    private function take(Schedule $schedule, Carbon $now): bool
    {
        $times = $schedule->times();
        $isSweep = $schedule->sweep_at !== null && $schedule->sweep_at <= $now;
        $isDue = $schedule->next_at !== null && $schedule->next_at <= $now;
        $of = ($isSweep ? $times->sweep : $times->times) ?? throw new \LogicException("The schedule {$schedule->id} has no times.");
        $due = ($isSweep ? $schedule->sweep_at : $schedule->next_at) ?? $now;
        $next = static fn (?CronTimes $which, ?Carbon $was, bool $isOver): ?string => ($isOver ? $which?->after($now->toDateTimeImmutable()) : $was)?->format('Y-m-d H:i:s');

        return DB::transaction(function () use ($schedule, $times, $of, $due, $next, $now, $isSweep, $isDue): bool {
            $isMine = DB::table('schedules')->where('id', $schedule->id)->whereNull('paused_at')
                ->where('next_at', $schedule->next_at?->format('Y-m-d H:i:s'))->where('sweep_at', $schedule->sweep_at?->format('Y-m-d H:i:s'))
                ->update(['next_at' => $next($times->times, $schedule->next_at, $isDue), 'sweep_at' => $next($times->sweep, $schedule->sweep_at, $isSweep), 'updated_at' => $now]);
            if ($isMine !== 1) {
                return false;
            }
            $late = $this->late($of, $due, $now);
            $run = $this->runs->queue($schedule->endpoint, $schedule->environment, null, new RunWish(whole: $isSweep, begunBy: $isSweep ? BegunBy::sweep($late) : BegunBy::schedule($late)));
            if (! $run->wasRecentlyCreated) {
                RunEvent::query()->insert(['run_id' => $run->id, 'level' => 2, 'at' => microtime(true), 'page' => null, 'kind' => 'schedule', 'text' => "The schedule's {$due->format('Y-m-d H:i')} UTC came while this was under way; it was not begun a second time."]);
            }

            return $run->wasRecentlyCreated;
        }, self::ATTEMPTS);
    }

    /**
     * "due at 03:00 UTC, 4 more times were missed"; null when it is in time.
     */
    private function late(CronTimes $times, Carbon $due, Carbon $now): ?string
    {
        if ($due->diffInSeconds($now) < self::LATE) {
            return null;
        }
        $missed = count($times->between($due->toDateTimeImmutable(), $now->toDateTimeImmutable(), self::COUNTED));

        return "due at {$due->format('Y-m-d H:i')} UTC".match (true) {
            $missed === 0 => '',
            $missed === 1 => '; one more time was missed',
            $missed < self::COUNTED => "; $missed more times were missed",
            default => '; more than '.self::COUNTED.' more times were missed',
        };
    }
}
