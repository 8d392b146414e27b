<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Drift;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Secret;
use App\Models\Source;
use App\Models\Tryout;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * What somebody should look at in an environment: what failed, what is in doubt, what ends soon.
 */
final class NeedsALook
{
    /** @var list<array{tag: string, state: string, title: string, text: string, url: string|null, link: string}> */
    public array $all = [];

    /** @var array<int, Run> the last run of an endpoint, where it failed */
    public readonly array $failed;

    /** @var array<int, Tryout> the last try of a source, where it failed */
    public readonly array $refused;

    public function __construct(Environment $environment, private readonly bool $maySeeSources)
    {
        $this->failed = $this->failedRuns($environment);
        $this->refused = $this->refusedTries($environment);
        $this->collect($environment);
    }

    /**
     * @return array<int, Run> the last run of an endpoint, where it failed
     */
    private function failedRuns(Environment $environment): array
    {
        $last = Run::query()->where('environment_id', $environment->id)->whereIn('kind', ['refresh', 'rebuild'])->whereNotIn('state', [RunState::Queued, RunState::Running])->groupBy('endpoint_id')->select(DB::raw('max(id)'));
        $failed = [];
        foreach (Run::query()->with('endpoint')->whereIn('id', $last)->where('state', RunState::Failed)->get() as $run) {
            $failed[$run->endpoint_id] = $run;
        }

        return $failed;
    }

    /**
     * @return array<int, Tryout> the last try of a source, where it failed
     */
    private function refusedTries(Environment $environment): array
    {
        $last = Tryout::query()->where('environment_id', $environment->id)->groupBy('source_id')->select(DB::raw('max(id)'));
        $refused = [];
        foreach (Tryout::query()->whereIn('id', $last)->where('succeeded', false)->get() as $try) {
            $refused[$try->source_id] = $try;
        }

        return $refused;
    }

    private function collect(Environment $environment): void
    {
        foreach (DB::table('paces')->join('sources', 'sources.id', '=', 'paces.source_id')->where('environment_id', $environment->id)->where('breaker', 'open')->get(['sources.name', 'sources.slug']) as $one) {
            $this->all[] = ['tag' => 'paused', 'state' => 'i', 'title' => (string) $one->name, 'text' => 'It has failed for long, so runs wait for it to be back.', 'url' => $this->maySeeSources ? route('sources.show', $one->slug) : null, 'link' => 'Open the source'];
        }
        $filled = KeptTable::query()->where('environment_id', $environment->id)->where('is_branch', false)->whereNotNull('run_id')->pluck('run_id')->all();
        foreach (Run::query()->with('endpoint')->whereIn('id', $filled)->whereNotNull('findings')->get() as $run) {
            foreach (array_filter($run->findings ?? [], static fn (array $finding): bool => $finding['doubt']) as $finding) {
                $this->all[] = ['tag' => 'in doubt', 'state' => 'o', 'title' => $run->endpoint->name, 'text' => $finding['sentence'], 'url' => $this->maySeeSources ? route('runs.show', $run) : null, 'link' => 'Open the run'];
            }
        }
        foreach ($this->maySeeSources ? Drift::open($environment)->with('endpoint')->get()->groupBy('endpoint_id') : [] as $all) {
            $first = $all->first();
            $table = $first === null ? null : KeptTable::query()->where('endpoint_id', $first->endpoint_id)->where('environment_id', $environment->id)->orderBy('is_branch')->first();
            if ($first !== null && $table !== null) {
                $this->all[] = ['tag' => 'drift', 'state' => 'o', 'title' => $table->name, 'text' => $first->sentence.($all->count() > 1 ? ' And '.($all->count() - 1).' more.' : ''), 'url' => route('tables.show', $table->name), 'link' => 'Resolve'];
            }
        }
        foreach ($this->failed as $run) {
            $this->all[] = ['tag' => 'failed', 'state' => 'i', 'title' => $run->endpoint->name, 'text' => ($this->maySeeSources ? $run->diagnosis['what'] ?? null : null) ?? 'The last refresh failed; the rows from before are still there.', 'url' => $this->maySeeSources ? route('runs.show', $run) : null, 'link' => 'Open the run'];
        }
        $names = Source::query()->whereKey(array_keys($this->refused))->get(['id', 'name', 'slug'])->keyBy('id');
        foreach ($this->maySeeSources ? $this->refused : [] as $try) {
            $source = $names[$try->source_id] ?? null;
            if ($source !== null) {
                $this->all[] = ['tag' => ($try->diagnosis['code'] ?? '') === 'consent' ? 'consent' : 'refused', 'state' => ($try->diagnosis['code'] ?? '') === 'consent' ? 'o' : 'i', 'title' => $source->name, 'text' => ($try->diagnosis['what'] ?? 'The last try failed.'), 'url' => $this->maySeeSources ? route('sources.show', $source) : null, 'link' => 'Open the source'];
            }
        }
        foreach ($this->maySeeSources ? Secret::query()->with('source')->where('environment_id', $environment->id)->whereNotNull('ends_on')->where('ends_on', '<=', Carbon::now()->addDays(14))->orderBy('ends_on')->get() : [] as $secret) {
            $days = (int) Carbon::now()->startOfDay()->diffInDays($secret->ends_on, false);
            $this->all[] = ['tag' => $days < 0 ? 'ended' : ($days === 0 ? 'ends today' : "$days d left"), 'state' => $days < 0 ? 'i' : 'o', 'title' => $secret->source->name, 'text' => "Its secret \"$secret->name\" ".($days < 0 ? 'ended' : 'ends').' on '.$secret->ends_on?->format('Y-m-d').'.', 'url' => route('sources.show', [$secret->source, 'secret' => $secret->name]).'#secret-form', 'link' => 'Replace it'];
        }
        foreach (KeptTable::query()->where('environment_id', $environment->id)->where('refreshed_at', '<', Carbon::now()->subHours(WatershedMap::AGEING))->orderBy('refreshed_at')->get(['name', 'refreshed_at']) as $table) {
            $this->all[] = ['tag' => 'ageing', 'state' => 'o', 'title' => $table->name, 'text' => 'Last refreshed '.Show::ago($table->refreshed_at).'.', 'url' => route('tables.show', $table->name), 'link' => 'Open the table'];
        }
    }
}
