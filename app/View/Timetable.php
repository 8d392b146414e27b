<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Run;
use App\Models\RunState;
use App\Models\Schedule;
use DeepSpring\Schedule\Crowd;
use DeepSpring\Schedule\DayPlan;
use DeepSpring\Schedule\PlannedRefresh;
use Illuminate\Support\Carbon;
use Illuminate\Support\Collection;

/**
 * A day or a week of refreshes: what was read, what is due and will probably take how long, and where more is
 * due than can be read at once. A strip for each schedule, one above all for the work together.
 *
 * @phpstan-type Bar array{x: float, w: float, kind: string, count: int, says: string}
 */
final class Timetable
{
    /** Pixels. */
    public const WIDTH = 528;

    private const COLUMN = 4;

    /** Seconds of waiting for a worker that are worth a word. */
    private const WAIT = 30.0;

    /** Seconds that a refresh is reckoned to take of which none was read yet. */
    private const UNKNOWN = 5.0;

    /** Times of one schedule that are drawn. */
    private const TIMES = 1500;

    /** Sentences about crowds. */
    private const SENTENCES = 4;

    /** Moments that one sentence names. */
    private const NAMED = 3;

    /** Least width of a bar, so that it can be seen. */
    private const LEAST = 2.0;

    private const KINDS = ['done' => 'done', 'failed' => 'failed', 'stopped' => 'stopped', 'running' => 'being read', 'queued' => 'waiting for a worker', 'planned' => 'due', 'out' => 'left out, since the one before is still under way'];

    /** @var array<int, list<Bar>> by schedule */
    private array $bars = [];

    /** @var list<array{x: int, h: float, isCrowded: bool}> */
    public array $load = [];

    /** @var list<Crowd> */
    public array $crowds = [];

    private int $most = 0;

    /**
     * @param  Collection<int, Schedule>  $schedules
     * @param  array<int, float>  $seconds  that a refresh usually takes, by endpoint
     * @param  Collection<int, Run>  $runs  that began within the span
     */
    public function __construct(public readonly Carbon $from, public readonly Carbon $until, public readonly \DateTimeZone $zone, public readonly Carbon $now, private readonly Collection $schedules, private readonly array $seconds, private readonly Collection $runs, public readonly int $workers)
    {
        $drawn = [];
        $work = [];
        foreach ($runs as $run) {
            $end = $run->ended_at ?? $now;
            $begin = $run->started_at ?? $run->created_at;
            $drawn[$run->endpoint_id][] = [$begin->getPreciseTimestamp(3) / 1000, $end->getPreciseTimestamp(3) / 1000, $run->state->value];
            $work[] = end($drawn[$run->endpoint_id]);
        }
        $plan = DayPlan::of($this->due(), $workers);
        foreach ($plan->runs as $planned) {
            $bar = [$planned->begins ?? (float) $planned->refresh->at, $planned->ends ?? $planned->refresh->at + self::UNKNOWN, $planned->begins === null ? 'out' : 'planned'];
            $drawn[(int) $planned->refresh->name][] = $bar;
            if ($planned->begins !== null) {
                $work[] = $bar;
            }
        }
        $this->crowds = $plan->crowds(self::WAIT);
        foreach ($schedules as $schedule) {
            $this->bars[$schedule->id] = $this->drawn($drawn[$schedule->endpoint_id] ?? []);
        }
        $this->load = $this->load($work);
        $this->most = self::mostAtOnce($work);
    }

    /**
     * What is due from now on.
     *
     * @return list<PlannedRefresh> named by the endpoint
     */
    private function due(): array
    {
        $due = [];
        $after = max($this->from, $this->now)->toDateTimeImmutable();
        foreach ($this->schedules as $schedule) {
            foreach ($schedule->paused_at === null ? $this->timesOf($schedule, $after) : [] as $time) {
                $due[] = new PlannedRefresh((string) $schedule->endpoint_id, (string) $schedule->endpoint->source_id, $time->getTimestamp(), $this->usually($schedule) ?? self::UNKNOWN);
            }
        }

        return $due;
    }

    /**
     * @return array<int, \DateTimeImmutable> by the moment, so that what is due twice is due once
     */
    private function timesOf(Schedule $schedule, \DateTimeImmutable $after): array
    {
        $of = $schedule->times();
        $times = [];
        foreach (array_filter([$of->times, $of->sweep]) as $one) {
            foreach ($one->between($after, $this->until->toDateTimeImmutable(), self::TIMES) as $time) {
                $times[$time->getTimestamp()] = $time;
            }
        }

        return $times;
    }

    /**
     * Seconds that its refresh usually takes; null where none was read yet.
     */
    public function usually(Schedule $schedule): ?float
    {
        return $this->seconds[$schedule->endpoint_id] ?? null;
    }

    /**
     * @return list<Bar> from left to right; those that would lie on each other are one
     */
    public function bars(Schedule $schedule): array
    {
        return $this->bars[$schedule->id] ?? [];
    }

    /**
     * @param  list<array{float, float, string}>  $spans  begin, end, kind
     * @return list<Bar>
     */
    private function drawn(array $spans): array
    {
        usort($spans, static fn (array $one, array $other): int => $one[0] <=> $other[0]);
        $bars = [];
        foreach ($spans as [$begin, $end, $kind]) {
            $x = $this->x($begin);
            $w = max(self::LEAST, $this->x($end) - $x);
            $last = count($bars) - 1;
            if ($last >= 0 && $bars[$last]['kind'] === $kind && $x < $bars[$last]['x'] + $bars[$last]['w'] + 1) {
                $bars[$last]['w'] = round(max($bars[$last]['w'], $x + $w - $bars[$last]['x']), 2);
                $bars[$last]['count']++;
            } else {
                $bars[] = ['x' => $x, 'w' => round($w, 2), 'kind' => $kind, 'count' => 1, 'says' => $this->time((int) $begin)];
            }
        }

        return array_map(static fn (array $bar): array => ['says' => $bar['says'].($bar['count'] > 1 ? " and {$bar['count']} in all" : '').': '.self::KINDS[$bar['kind']]] + $bar, $bars);
    }

    /**
     * How many refreshes fall into each column of a fixed width.
     *
     * @param  list<array{float, float, string}>  $work
     * @return list<array{x: int, h: float, isCrowded: bool}> h from 0 to 1
     */
    private function load(array $work): array
    {
        $columns = array_fill(0, intdiv(self::WIDTH, self::COLUMN), 0);
        foreach ($work as [$begin, $end]) {
            $last = (int) min(count($columns) - 1, $this->x($end) / self::COLUMN);
            for ($column = (int) ($this->x($begin) / self::COLUMN); $column <= $last; $column++) {
                $columns[$column]++;
            }
        }
        $crowded = [];
        foreach ($this->crowds as $crowd) {
            $crowded[(int) ($this->x($crowd->at) / self::COLUMN)] = true;
        }
        $tallest = max(1, ...$columns);
        $load = [];
        foreach ($columns as $number => $count) {
            if ($count > 0) {
                $load[] = ['x' => $number * self::COLUMN, 'h' => round($count / $tallest, 3), 'isCrowded' => isset($crowded[$number])];
            }
        }

        return $load;
    }

    /**
     * @param  list<array{float, float, string}>  $work
     */
    private static function mostAtOnce(array $work): int
    {
        $changes = [];
        foreach ($work as [$begin, $end]) {
            $changes[] = [$begin, 1];
            $changes[] = [$end, -1];
        }
        // One that ends makes room for one that begins at the same moment.
        sort($changes);
        $now = $most = 0;
        foreach ($changes as [, $change]) {
            $most = max($most, $now += $change);
        }

        return $most;
    }

    public function x(float $moment): float
    {
        $span = $this->until->getTimestamp() - $this->from->getTimestamp();

        return round(self::WIDTH * max(0.0, min(1.0, ($moment - $this->from->getTimestamp()) / $span)), 2);
    }

    /**
     * Where now is; null outside of the span.
     */
    public function nowX(): ?float
    {
        return $this->now < $this->from || $this->now > $this->until ? null : $this->x($this->now->getTimestamp());
    }

    public function isWeek(): bool
    {
        return $this->until->getTimestamp() - $this->from->getTimestamp() > 2 * 86_400;
    }

    /**
     * @return list<array{x: float, text: string}> hours of a day, days of a week
     */
    public function ticks(): array
    {
        $ticks = [];
        $step = $this->isWeek() ? '+1 day' : '+3 hours';
        for ($wall = \DateTimeImmutable::createFromInterface($this->from)->setTimezone($this->zone); $wall < $this->until; $wall = $wall->modify($step)) {
            $ticks[] = ['x' => $this->x($wall->getTimestamp()), 'text' => $wall->format($this->isWeek() ? 'D j' : 'H:i')];
        }

        return $ticks;
    }

    public function time(int $moment, bool $hasDay = false): string
    {
        return (new \DateTimeImmutable("@$moment"))->setTimezone($this->zone)->format($hasDay || $this->isWeek() ? 'D j M H:i' : 'H:i');
    }

    /**
     * When a schedule is followed, without the zone where that is the one of the picture.
     */
    public function when(Schedule $schedule): string
    {
        return str_replace(", {$this->zone->getName()}", '', $schedule->times()->words());
    }

    /**
     * Where it gets crowded, the longest waits first; moments at which the same happens are one.
     *
     * @return list<string>
     */
    public function crowded(): array
    {
        $alike = [];
        foreach ($this->crowds as $crowd) {
            $what = trim("{$this->waiting($crowd)} {$this->leftOut($crowd)}");
            $alike[$what] ??= ['worst' => [$crowd->longestWait, count($crowd->leftOut)], 'times' => []];
            $alike[$what]['times'][] = $this->time($crowd->at);
        }
        uasort($alike, static fn (array $one, array $other): int => $other['worst'] <=> $one['worst']);
        $sentences = [];
        foreach (array_slice($alike, 0, self::SENTENCES, true) as $what => $one) {
            $more = count($one['times']) - self::NAMED;
            $sentences[] = implode(', ', array_slice($one['times'], 0, self::NAMED)).($more > 0 ? ' and '.Show::count($more, 'more time') : '').": $what";
        }

        return $sentences;
    }

    private function waiting(Crowd $crowd): string
    {
        return $crowd->longestWait < self::WAIT ? '' : Show::count($crowd->due, 'refresh is', 'refreshes are').' due, with '.Show::count($this->workers, 'worker').'; the last one waits about '.Show::duration(1000 * round($crowd->longestWait, $crowd->longestWait < 60 ? 0 : -1)).'.';
    }

    private function leftOut(Crowd $crowd): string
    {
        $names = array_map(fn (string $one): string => $this->schedules->firstWhere('endpoint_id', (int) $one)->endpoint->name ?? $one, array_slice($crowd->leftOut, 0, 3));
        $more = count($crowd->leftOut) - count($names);

        return $names === [] ? '' : implode(', ', $names).($more > 0 ? " and $more more" : '').(count($crowd->leftOut) === 1 ? ' is' : ' are').' left out, since the refresh before is still under way.';
    }

    public function summary(): string
    {
        $failed = $this->runs->filter(static fn (Run $run): bool => $run->state === RunState::Failed)->count();

        return Show::count($this->runs->count(), 'refresh', 'refreshes').($failed > 0 ? ", $failed of them failed" : '').($this->most > 1 ? "; {$this->most} at once at most" : '');
    }
}
