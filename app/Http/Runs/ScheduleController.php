<?php

declare(strict_types=1);

namespace App\Http\Runs;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Http\Controller;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\Schedule;
use App\Runs\Runs;
use App\Schedules\BegunRuns;
use App\Schedules\ScheduleBook;
use App\View\Timetable;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Support\Carbon;
use Illuminate\Support\Collection;

/**
 * What is refreshed when, in the environment somebody works in.
 */
final class ScheduleController extends Controller
{
    private const PAGE = 100;

    private const SORTS = ['source', 'name', 'next'];

    public function __construct(private readonly ScheduleBook $book, private readonly AuditLog $log)
    {
    }

    public function index(BegunRuns $begun): View
    {
        $this->authorize('viewAny', Run::class);
        $this->book->align();
        $all = Schedule::query()->with(['endpoint.source', 'environment', 'pausedBy'])->where('environment_id', $this->environment()->id)->get();
        $tables = KeptTable::query()->where('environment_id', $this->environment()->id)->whereIn('endpoint_id', $all->pluck('endpoint_id'))->orderBy('is_branch')->orderBy('name')->get(['endpoint_id', 'name'])->groupBy('endpoint_id');
        $zone = $this->zone($all);
        $isWeek = $this->text('span') === 'week';
        $from = $this->day($zone)->startOfDay();
        $until = $from->copy()->addDays($isWeek ? 7 : 1);
        $ids = array_values($all->map(static fn (Schedule $one): int => $one->endpoint_id)->all());
        $picture = new Timetable($from, $until, $zone, Carbon::now(), $all, $begun->usualSeconds($this->environment(), $ids), $begun->within($this->environment(), $from, $until), (int) config('spring.workers'));
        $shown = $this->shown($all, $tables);
        $page = max(1, min((int) ceil(max(1, $shown->count()) / self::PAGE), (int) $this->text('page') ?: 1));

        return view('schedule.index', ['picture' => $picture, 'all' => $all->count(), 'tables' => $tables, 'search' => $this->text('q'), 'sort' => $this->sort(), 'isWeek' => $isWeek, 'day' => $from, 'zone' => $zone, 'zones' => $this->zones($all),
            'schedules' => new \Illuminate\Pagination\LengthAwarePaginator($shown->forPage($page, self::PAGE)->values(), $shown->count(), self::PAGE, $page, ['path' => route('schedule.index'), 'query' => array_diff_key(request()->query(), ['page' => 1])])]);
    }

    /**
     * @param  Collection<int, Schedule>  $all
     * @param  Collection<int, Collection<int, KeptTable>>  $tables
     * @return Collection<int, Schedule>
     */
    private function shown(Collection $all, Collection $tables): Collection
    {
        $words = mb_strtolower($this->text('q'));
        $found = $words === '' ? $all : $all->filter(static fn (Schedule $one): bool => str_contains(mb_strtolower("{$one->endpoint->name} {$one->endpoint->source->name} ".($tables->get($one->endpoint_id)?->pluck('name')->join(' ') ?? '')), $words));

        return $found->sortBy(match ($this->sort()) {
            'name' => [static fn (Schedule $one, Schedule $other): int => strnatcasecmp($one->endpoint->name, $other->endpoint->name)],
            'next' => [static fn (Schedule $one, Schedule $other): int => [$one->next_at === null, $one->next_at] <=> [$other->next_at === null, $other->next_at]],
            default => [static fn (Schedule $one, Schedule $other): int => strnatcasecmp("{$one->endpoint->source->name} {$one->endpoint->name}", "{$other->endpoint->source->name} {$other->endpoint->name}")],
        })->values();
    }

    private function sort(): string
    {
        return in_array($this->text('sort'), self::SORTS, true) ? $this->text('sort') : self::SORTS[0];
    }

    /**
     * @param  Collection<int, Schedule>  $all
     * @return list<string>
     */
    private function zones(Collection $all): array
    {
        return array_values($all->map(static fn (Schedule $one): string => $one->refresh['zone'] ?? 'UTC')->countBy()->sortDesc()->keys()->push($this->person()->zone, 'UTC')->unique()->all());
    }

    /**
     * The one asked for; otherwise the person's own, or the one that most schedules go by.
     *
     * @param  Collection<int, Schedule>  $all
     */
    private function zone(Collection $all): \DateTimeZone
    {
        $zones = $this->zones($all);

        $own = $this->person()->zone;

        return new \DateTimeZone(in_array($this->text('zone'), $zones, true) ? $this->text('zone') : ($own === 'UTC' ? $zones[0] : $own));
    }

    private function day(\DateTimeZone $zone): Carbon
    {
        $day = preg_match('/^(\d{4})-(\d{2})-(\d{2})$/D', $this->text('day'), $is) === 1 && checkdate((int) $is[2], (int) $is[3], (int) $is[1]) ? $this->text('day') : 'today';

        return Carbon::parse($day, $zone);
    }

    public function pause(Schedule $schedule): RedirectResponse
    {
        $this->authorize('update', $schedule->endpoint->source);
        $this->book->pause($schedule, $this->person()->id);
        $this->log->note(Action::Paused, "{$schedule->endpoint->source->slug}/{$schedule->endpoint->slug}", $schedule->environment->name);

        return back()->with('notice', "{$schedule->endpoint->name} is not refreshed by itself any more, until somebody resumes it.");
    }

    public function resume(Schedule $schedule): RedirectResponse
    {
        $this->authorize('update', $schedule->endpoint->source);
        $this->book->resume($schedule);
        $this->log->note(Action::Resumed, "{$schedule->endpoint->source->slug}/{$schedule->endpoint->slug}", $schedule->environment->name);

        return back()->with('notice', "{$schedule->endpoint->name} is refreshed by itself again.");
    }

    public function now(Schedule $schedule, Runs $runs): RedirectResponse
    {
        $this->authorize('update', $schedule->endpoint->source);

        return redirect()->route('runs.show', $runs->queue($schedule->endpoint, $schedule->environment, $this->person()));
    }
}
