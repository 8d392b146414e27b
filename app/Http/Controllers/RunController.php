<?php

declare(strict_types=1);

namespace App\Http\Controllers;

use App\Models\Exchange;
use App\Models\Run;
use App\Models\RunState;
use App\Runs\Runs;
use Illuminate\Contracts\View\View;
use Illuminate\Http\RedirectResponse;

final class RunController extends Controller
{
    private const PAGE = 30;

    public function __construct(private readonly Runs $runs)
    {
    }

    public function index(): View
    {
        $this->authorize('viewAny', Run::class);
        $this->runs->buryDead();
        $state = RunState::tryFrom($this->word('state'));
        $search = $this->word('q');
        $runs = Run::query()->with(['endpoint.source', 'environment', 'user'])
            ->when($state !== null, fn ($query) => $query->where('state', $state))
            ->when($search !== '', fn ($query) => $query->whereHas('endpoint', fn ($endpoint) => $endpoint->whereRaw('name collate utf8mb4_general_ci like ?', ['%'.addcslashes($search, '%_\\').'%'])))
            ->latest('id')->paginate(self::PAGE)->withQueryString();

        return view('runs.index', ['runs' => $runs, 'state' => $state, 'search' => $search]);
    }

    public function show(Run $run): View
    {
        $this->authorize('view', $run);
        $this->runs->buryDead();

        return view('runs.show', $this->seen($run->refresh()));
    }

    public function progress(Run $run): View
    {
        $this->authorize('view', $run);
        $this->runs->buryDead();

        return view('runs.progress', $this->seen($run->refresh()));
    }

    public function stop(Run $run): RedirectResponse
    {
        $this->authorize('update', $run);
        $this->runs->stop($run);

        return redirect()->route('runs.show', $run);
    }

    /**
     * @return array<string, mixed>
     */
    private function seen(Run $run): array
    {
        return [
            'run' => $run, 'exchange' => Exchange::query()->where('run_id', $run->id)->latest('id')->first(),
            'rejects' => $run->rejectedValues()->orderBy('id')->paginate(50),
        ];
    }
}
