<?php

declare(strict_types=1);

namespace App\Schedules;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Schedule;
use App\Models\Source;
use DeepSpring\Schedule\CronTimes;
use DeepSpring\Schedule\InvalidSchedule;
use DeepSpring\Schedule\RefreshTimes;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Keeps `schedules` equal to what is published: a row for each endpoint and environment that is read again
 * without anybody asking.
 */
final class ScheduleBook
{
    /** Sources that are looked at in one go. */
    private const AT_ONCE = 100;

    /** Of a transaction that the database ended because it stood in the way of another. */
    private const ATTEMPTS = 4;

    /** Seconds by which a clock may be ahead without anything being counted anew. */
    private const AHEAD = 120;

    /**
     * Sources of which another version was published since.
     */
    public function align(): void
    {
        $sources = Source::query()->where('published_version', '>', 0)
            ->where(static fn (Builder $either) => $either->where('scheduled_version', null)->orWhereColumn('scheduled_version', '!=', 'published_version'))->limit(self::AT_ONCE)->get();
        foreach ($sources as $source) {
            $this->follow($source);
        }
        $this->recount();
    }

    /**
     * Takes over what the published version of a source says.
     */
    public function follow(Source $source): void
    {
        $file = $source->published();
        if ($file === null) {
            return;
        }
        DB::transaction(function () use ($source, $file): void {
            $environments = Environment::query()->whereIn('slug', $file->source()->environments())->get()->keyBy('slug');
            $kept = [];
            // Of large sources only those that say something are looked at.
            $saying = array_column(array_filter($file->document['endpoints'] ?? [], static fn (array $one): bool => isset($one['keep']['refresh'])), 'slug');
            foreach ($source->endpoints()->whereIn('slug', $saying)->get() as $endpoint) {
                $definition = $file->endpoint($endpoint->slug);
                foreach ($definition === null ? [] : $this->environmentsOf($definition, $file) as $slug) {
                    if (isset($environments[$slug])) {
                        $kept[] = $this->write($endpoint, $environments[$slug], $definition->endpoint['keep']['refresh'])->id;
                    }
                }
            }
            Schedule::query()->whereIn('endpoint_id', $source->endpoints()->select('id'))->whereNotIn('id', $kept)->delete();
            Source::query()->whereKey($source->id)->update(['scheduled_version' => $source->published_version]);
        }, self::ATTEMPTS);
    }

    /**
     * @return list<string>
     */
    private function environmentsOf(EndpointDefinition $definition, SourceFile $file): array
    {
        $refresh = $definition->endpoint['keep']['refresh'] ?? [];
        try {
            $times = $refresh === [] || $definition->does()->writes() || ! isset($definition->endpoint['flatten']) ? null : RefreshTimes::of($refresh);
        } catch (InvalidSchedule) {
            // It was published when it was right: a zone that the system knew then, for example.
            return [];
        }
        $all = $file->source()->environments();

        return $times === null || ! $times->isAutomatic() ? [] : array_values(array_filter($all, static fn (string $slug): bool => $times->isFor($slug, $all[0])));
    }

    /**
     * @param  array<string, mixed>  $refresh
     */
    private function write(Endpoint $endpoint, Environment $environment, array $refresh): Schedule
    {
        $schedule = Schedule::query()->firstOrNew(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id]);
        $when = static fn (array $one): array => [$one['every'] ?? null, $one['sweep'] ?? null, $one['zone'] ?? null];
        if (! $schedule->exists || $when($schedule->refresh) !== $when($refresh)) {
            $schedule->fill(self::next($refresh));
        }
        $schedule->fill(['refresh' => $refresh])->save();

        return $schedule;
    }

    /**
     * What a clock that was ahead has counted.
     */
    private function recount(): void
    {
        foreach (Schedule::query()->where('updated_at', '>', Carbon::now()->addSeconds(self::AHEAD))->get() as $schedule) {
            $schedule->fill(self::next($schedule->refresh))->save();
        }
    }

    /**
     * @param  array<string, mixed>  $refresh
     * @return array{next_at: Carbon|null, sweep_at: Carbon|null}
     */
    private static function next(array $refresh): array
    {
        $times = RefreshTimes::of($refresh);
        $next = static fn (?CronTimes $of): ?Carbon => $of === null ? null : Carbon::instance($of->after(Carbon::now()->toDateTimeImmutable()));

        return ['next_at' => $next($times->times), 'sweep_at' => $next($times->sweep)];
    }

    /**
     * Nothing begins by itself until it is taken up again.
     *
     * @param  int|null  $by  a person
     */
    public function pause(Schedule $schedule, ?int $by): void
    {
        $schedule->fill(['paused_at' => $schedule->paused_at ?? Carbon::now(), 'paused_by' => $by])->save();
    }

    /**
     * From the next time on; what would have been meanwhile is not made up for.
     */
    public function resume(Schedule $schedule): void
    {
        $schedule->fill(['paused_at' => null, 'paused_by' => null] + self::next($schedule->refresh))->save();
    }
}
