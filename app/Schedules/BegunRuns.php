<?php

declare(strict_types=1);

namespace App\Schedules;

use App\Models\Environment;
use App\Models\Run;
use App\Models\RunState;
use Illuminate\Support\Carbon;
use Illuminate\Support\Collection;

/**
 * How refreshes went, for a picture of when they are.
 */
final class BegunRuns
{
    /** Runs of an endpoint that say how long one usually takes. */
    private const LAST = 20;

    /** Runs that are looked at for that, of all endpoints together. */
    private const LOOKED_AT = 5000;

    /** Runs that are drawn. */
    private const DRAWN = 20_000;

    /**
     * @param  list<int>  $endpoints
     * @return array<int, float> the median of the last ones that were done, in seconds, by endpoint
     */
    public function usualSeconds(Environment $environment, array $endpoints): array
    {
        $took = [];
        $runs = Run::query()->where('environment_id', $environment->id)->where('state', RunState::Done)->where('kind', 'refresh')->whereIn('endpoint_id', $endpoints)
            ->orderByDesc('id')->limit(self::LOOKED_AT)->get(['endpoint_id', 'started_at', 'ended_at']);
        foreach ($runs as $run) {
            if ($run->started_at !== null && $run->ended_at !== null && count($took[$run->endpoint_id] ?? []) < self::LAST) {
                $took[$run->endpoint_id][] = abs($run->started_at->diffInMilliseconds($run->ended_at)) / 1000;
            }
        }

        return array_map(static function (array $seconds): float {
            sort($seconds);

            return $seconds[intdiv(count($seconds), 2)];
        }, $took);
    }

    /**
     * @return Collection<int, Run>
     */
    public function within(Environment $environment, Carbon $from, Carbon $until): Collection
    {
        /** @var Collection<int, Run> $runs */
        $runs = Run::query()->where('environment_id', $environment->id)->where('kind', '!=', 'try')->where('created_at', '>=', $from->copy()->utc()->format('Y-m-d H:i:s'))->where('created_at', '<', $until->copy()->utc()->format('Y-m-d H:i:s'))
            ->orderByDesc('id')->limit(self::DRAWN)->get(['id', 'endpoint_id', 'state', 'started_at', 'ended_at', 'created_at']);

        return $runs;
    }
}
