<?php

declare(strict_types=1);

namespace App\Http\Runs;

use App\Http\Controller;
use App\Models\CheckResult;
use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\Source;
use App\Runs\RefreshJob;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Sources\SourceStore;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;
use Illuminate\Http\Request;
use Illuminate\Support\Carbon;

final class RunController extends Controller
{
    private const PAGE = 30;

    private const LINES = 60;

    private const SORTS = ['id', 'pages', 'records', 'rows', 'rejects'];

    private const WITHIN = ['1h' => 1, '1d' => 24, '7d' => 168];

    public function __construct(private readonly Runs $runs)
    {
    }

    public function index(): View
    {
        $this->authorize('viewAny', Run::class);
        $this->runs->rescue();
        $state = RunState::tryFrom($this->text('state'));
        [$search, $source, $within] = [$this->text('q'), $this->text('source'), $this->text('within')];
        $sort = in_array($this->text('sort'), self::SORTS, true) ? $this->text('sort') : 'id';
        $like = '%'.addcslashes($search, '%_\\').'%';
        $runs = Run::query()->with(['endpoint.source', 'environment', 'user'])
            ->when($state !== null, fn ($query) => $query->where('state', $state))
            ->when($source !== '', fn ($query) => $query->whereHas('endpoint.source', fn ($of) => $of->where('slug', $source)))
            ->when(isset(self::WITHIN[$within]), fn ($query) => $query->where('created_at', '>', Carbon::now()->subHours(self::WITHIN[$within])))
            ->when($search !== '', fn ($query) => $query->where(fn ($any) => $any
                ->whereRaw('tables collate utf8mb4_general_ci like ?', [$like])
                ->orWhereHas('endpoint', fn ($endpoint) => $endpoint->whereRaw('name collate utf8mb4_general_ci like ?', [$like]))))
            ->orderByDesc($sort)->orderByDesc('id')->paginate(self::PAGE)->withQueryString();

        return view('runs.index', ['runs' => $runs, 'sort' => $sort, 'state' => $state, 'search' => $search, 'source' => $source, 'within' => $within, 'sources' => Source::described()->orderBy('name')->pluck('name', 'slug')]);
    }

    public function show(Run $run): View
    {
        $this->authorize('view', $run);
        $this->runs->rescue();

        return view('runs.show', $this->seen($run->refresh()));
    }

    public function progress(Run $run): View
    {
        $this->authorize('view', $run);
        $this->runs->rescue();

        return view($this->text('short') === '1' ? 'runs.short' : 'runs.progress', $this->seen($run->refresh()));
    }

    public function exchange(Run $run, Exchange $exchange): View
    {
        $this->authorize('view', $run);
        abort_unless($exchange->run_id === $run->id, 404);

        return view('runs.exchange', ['run' => $run, 'exchange' => $exchange]);
    }

    public function stop(Request $request, Run $run): RedirectResponse
    {
        $this->authorize('update', $run);
        $this->runs->stop($run, $request->boolean('now'));

        return redirect()->route('runs.show', $run);
    }

    public function goOn(Run $run): RedirectResponse
    {
        $this->authorize('update', $run);

        return $this->runs->goOn($run) ? redirect()->route('runs.show', $run) : redirect()->route('runs.show', $run)->with('notice', 'It cannot be continued, since a newer run has begun. Run it again instead.');
    }

    public function again(Request $request, Run $run): RedirectResponse
    {
        $this->authorize('update', $run);
        if ($run->isTry()) {
            $again = $this->runs->prove($run->endpoint, $run->endpoint->source->current(), $run->environment, $request->user());
            if ($again->wasRecentlyCreated) {
                RefreshJob::dispatch($again->id);
            }

            return redirect()->route('runs.show', $again);
        }
        if ($run->endpoint->source->published_version === null) {
            return redirect()->route('runs.show', $run)->with('notice', 'Nothing of this source is published any more.');
        }

        return redirect()->route('runs.show', $this->runs->queue($run->endpoint, $run->environment, $request->user(), new RunWish($request->boolean('every_exchange'), whole: $run->whole || $request->boolean('whole'), takesAny: $request->boolean('takes_any'), failedRows: $request->boolean('failed_rows'))));
    }

    /**
     * The tables of a run once more, from the pages that are kept, by what is published; the draft can be
     * published first.
     */
    public function rebuild(Request $request, Run $run, SourceStore $store): RedirectResponse
    {
        $this->authorize('update', $run);
        if ($request->boolean('publish')) {
            $this->authorize('update', $run->endpoint->source);
            $store->publish($run->endpoint->source, $this->person());
            $run->endpoint->refresh()->load('source');
        }
        if ($run->endpoint->source->published_version === null) {
            return redirect()->route('runs.show', $run)->with('notice', 'Nothing of this source is published any more.');
        }

        return redirect()->route('runs.show', $this->runs->queue($run->endpoint, $run->environment, $request->user(), new RunWish(rebuild: true)));
    }

    /**
     * @return array<string, mixed>
     */
    private function seen(Run $run): array
    {
        $level = (int) $this->text('level');
        $level = isset(RunEvent::LEVELS[$level]) ? $level : 2;
        $events = RunEvent::query()->where('run_id', $run->id)->where('level', '<=', $level)->orderByDesc('at')->orderByDesc('id')->paginate(self::LINES, ['*'], 'line')->withPath(route('runs.show', $run))->appends(['level' => $level]);

        return [
            'run' => $run, 'level' => $level, 'events' => $events, 'mayGoOn' => $this->runs->mayGoOn($run),
            'exchange' => $run->state === RunState::Failed ? Exchange::query()->where('run_id', $run->id)->latest('id')->first() : null,
            'kept' => KeptTable::query()->where('endpoint_id', $run->endpoint_id)->where('environment_id', $run->environment_id)->orderBy('id')->get(),
            'results' => CheckResult::query()->where('run_id', $run->id)->orderBy('id')->get(),
            'rejects' => $run->rejectedValues()->orderBy('id')->paginate(50),
        ];
    }
}
