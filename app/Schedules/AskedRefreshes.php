<?php

declare(strict_types=1);

namespace App\Schedules;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Schedule;
use App\Runs\BegunBy;
use App\Runs\Runs;
use App\Runs\RunWish;
use Illuminate\Support\Carbon;

/**
 * Refreshes tables that somebody reads, where their rows are older than their source file allows. The reader
 * gets the old rows at once and is told so, or waits a while for the new ones.
 */
final readonly class AskedRefreshes
{
    /** Seconds after a failed refresh in which readers begin no other. */
    private const REST = 60;

    public function __construct(private Runs $runs)
    {
    }

    /**
     * @param  list<string>  $tables  that are about to be read
     * @param  float  $patience  seconds that the reader may be kept waiting
     * @return list<AskedTable>
     */
    public function of(Environment $environment, array $tables, float $patience): array
    {
        $kept = $tables === [] ? [] : KeptTable::query()->where('environment_id', $environment->id)->whereIn('name', $tables)->get();
        $schedules = $tables === [] ? collect() : Schedule::query()->with(['endpoint.source', 'environment'])->where('environment_id', $environment->id)->whereNull('paused_at')
            ->whereIn('endpoint_id', $kept->pluck('endpoint_id')->unique())->get()->keyBy('endpoint_id');
        $asked = [];
        $until = microtime(true) + $patience;
        foreach ($kept as $table) {
            $times = $schedules->get($table->endpoint_id)?->times();
            if ($times !== null && $times->isTooOld($table->refreshed_at->toDateTimeImmutable(), Carbon::now()->toDateTimeImmutable())) {
                $asked[$table->name] = [$table, $times->waits, (string) $times->olderThan, $this->begin($table, $schedules[$table->endpoint_id])];
            }
        }

        return array_values(array_map(fn (array $one): AskedTable => $this->seen($one[0], $one[2], $one[3], $one[1] && $patience > 0 ? $until : 0.0), $asked));
    }

    /**
     * @return Run|string the run that reads it anew, or why there is none
     */
    private function begin(KeptTable $table, Schedule $schedule): Run|string
    {
        $last = $schedule->endpoint->lastRun($schedule->environment);
        if ($last?->state === RunState::Failed && $last->ended_at?->isAfter(Carbon::now()->subSeconds(self::REST)) === true) {
            return "the last refresh failed a moment ago (run {$last->id}); another one is tried in a minute at the earliest";
        }
        if ($schedule->endpoint->source->published_version === null) {
            return 'nothing of its source is published';
        }
        $age = Age::words((int) abs($table->refreshed_at->diffInSeconds(Carbon::now())));

        return $this->runs->queue($schedule->endpoint, $schedule->environment, null, new RunWish(begunBy: BegunBy::statement($table->name, $age)));
    }

    /**
     * @param  float  $until  moment up to which is waited
     */
    private function seen(KeptTable $table, string $olderThan, Run|string $run, float $until): AskedTable
    {
        if (is_string($run)) {
            return new AskedTable($table->name, $table->refreshed_at, $olderThan, null, reason: $run);
        }
        if ($until === 0.0) {
            return new AskedTable($table->name, $table->refreshed_at, $olderThan, $run->id);
        }
        while (! ($over = $run->refresh()->state->isOver()) && microtime(true) < $until) {
            usleep(200_000);
        }
        $reason = match (true) {
            ! $over => 'it was not there in time',
            $run->state !== RunState::Done => 'the refresh '.($run->state === RunState::Failed ? 'failed' : 'was stopped'),
            default => null,
        };

        return new AskedTable($table->name, $table->refreshed_at, $olderThan, $run->id, $reason === null, $reason);
    }
}
