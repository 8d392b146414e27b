<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\KeptTable;
use App\Models\Schedule;
use App\Schedules\ScheduleBook;
use DeepSpring\Schedule\CronTimes;
use DeepSpring\Schedule\InvalidSchedule;
use DeepSpring\Schedule\PlainTimes;
use Illuminate\Support\Carbon;
use Illuminate\Support\Collection;

final class ScheduleCommand extends SpringCommand
{
    private const NEXT = 3;

    protected $signature = 'spring:schedule {which? : A table, SOURCE/ENDPOINT or a source; without it all of them} {--next= : How many times are listed of each (3)} {--pause : It is not refreshed by itself until it is resumed} {--resume : From the next time on it is again} {--times= : Only says when this cron expression happens} {--zone=UTC : Its time zone} {--environment= : Environment}';

    protected $description = 'Lists what is refreshed by itself and when, pauses it, resumes it';

    public function work(ScheduleBook $book): int
    {
        $count = (string) ($this->option('next') ?? self::NEXT);
        if (preg_match('/^\d{1,3}$/D', $count) !== 1) {
            throw new WrongUse('--next takes a number from 0 to 999.');
        }
        if (is_string($this->option('times'))) {
            return $this->times($this->option('times'), (string) $this->option('zone'), (int) $count);
        }
        if ($this->option('pause') && $this->option('resume')) {
            throw new WrongUse('Say --pause or --resume.');
        }
        $book->align();
        $which = $this->argument('which');
        if (! is_string($which) && ($this->option('pause') || $this->option('resume'))) {
            throw new WrongUse('Say which: a table, SOURCE/ENDPOINT or a source.');
        }
        $schedules = $this->found(is_string($which) ? $which : null);
        if ($schedules->isEmpty()) {
            $this->say(is_string($which) ? "Nothing of \"$which\" is refreshed by itself." : 'Nothing is refreshed by itself. A source file says when under keep.refresh of an endpoint.');

            return is_string($which) ? self::REFUSED : self::DONE;
        }
        foreach ($schedules as $schedule) {
            if ($this->option('pause')) {
                $book->pause($schedule, null);
            } elseif ($this->option('resume')) {
                $book->resume($schedule);
            }
            $this->tell($schedule, (int) $count);
        }

        return self::DONE;
    }

    /**
     * A line: endpoint, environment, state, when, the next times.
     */
    private function tell(Schedule $schedule, int $count): void
    {
        $times = $schedule->times()->times;
        $next = $times === null || $schedule->next_at === null || $schedule->paused_at !== null ? [] : [$schedule->next_at->toDateTimeImmutable(), ...$times->next($schedule->next_at->toDateTimeImmutable(), max(0, $count - 1))];
        $this->giveLine(implode("\t", [
            "{$schedule->endpoint->source->slug}/{$schedule->endpoint->slug}", $schedule->environment->slug, $schedule->paused_at === null ? 'followed' : 'paused', $schedule->times()->words(),
            implode(', ', $this->written(array_slice($next, 0, $count), $times?->zone() ?? 'UTC')),
        ]));
    }

    private function times(string $expression, string $zone, int $count): int
    {
        try {
            $times = new CronTimes($expression, $zone);
        } catch (InvalidSchedule $invalid) {
            throw new WrongUse($invalid->getMessage());
        }
        $words = PlainTimes::ofCron($times->expression)?->words();
        $words === null || $this->say($words);
        foreach ($this->written($times->next(Carbon::now()->toDateTimeImmutable(), $count), $zone) as $time) {
            $this->giveLine($time);
        }

        return self::DONE;
    }

    /**
     * @param  list<\DateTimeImmutable>  $times
     * @return list<string> with the offset of the zone, which tells apart what the clock shows twice
     */
    private function written(array $times, string $zone): array
    {
        return array_map(static fn (\DateTimeImmutable $time): string => $time->setTimezone(new \DateTimeZone($zone))->format('Y-m-d H:iP'), $times);
    }

    /**
     * @return Collection<int, Schedule>
     */
    private function found(?string $which): Collection
    {
        $asked = $this->option('environment');
        $all = Schedule::query()->with(['endpoint.source', 'environment'])->when(is_string($asked) && $asked !== '', fn ($query) => $query->whereHas('environment', fn ($environment) => $environment->where('slug', $asked)))->get();
        $tables = $which === null ? collect() : KeptTable::query()->where('name', $which)->get(['endpoint_id', 'environment_id']);

        return $all->filter(static fn (Schedule $one): bool => $which === null || in_array($which, [$one->endpoint->source->slug, "{$one->endpoint->source->slug}/{$one->endpoint->slug}"], true)
            || $tables->contains(static fn (KeptTable $table): bool => $table->endpoint_id === $one->endpoint_id && $table->environment_id === $one->environment_id))
            ->sortBy(static fn (Schedule $one): string => "{$one->endpoint->source->slug}/{$one->endpoint->slug} {$one->environment->slug}")->values();
    }
}
