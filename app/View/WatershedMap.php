<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Drift;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Models\SavedQuery;
use App\Models\Secret;
use App\Models\Source;
use App\Models\Tryout;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Sources, tables and queries from left to right, with bands between: as wide as there are rows
 * (logarithmic), coloured by freshness, dashed where the last run failed.
 */
final class WatershedMap
{
    private const X = ['source' => 0, 'table' => 360, 'query' => 700];

    private const W = ['source' => 190, 'table' => 190, 'query' => 200];

    /** Hours after which a table is called ageing. */
    private const AGEING = 24;

    /** @var list<array{id: string, kind: string, x: int, y: int, w: int, h: int, title: string, mono: bool, sub: string, url: string|null, state: string}> */
    public array $boxes = [];

    /** @var list<array{from: string, to: string, d: string, width: float, state: string}> */
    public array $bands = [];

    /** @var list<array{tag: string, state: string, title: string, text: string, url: string|null, link: string}> */
    public array $needsALook = [];

    public int $height = 0;

    public int $sources = 0;

    public int $tables = 0;

    public int $queries = 0;

    /** Tables that are not drawn for want of room. */
    public int $more = 0;

    private const MOST_TABLES = 60;

    public function __construct(Environment $environment, private readonly bool $maySeeSources, string $search = '')
    {
        $tables = KeptTable::query()->with('endpoint.source')->where('environment_id', $environment->id)->orderBy('endpoint_id')->orderBy('id')->get();
        $sources = Source::query()->orderBy('name')->get();
        $queries = SavedQuery::query()->orderBy('name')->get();
        if ($search !== '') {
            $has = static fn (string $text): bool => mb_stripos($text, $search) !== false;
            $tables = $tables->filter(fn (KeptTable $table): bool => $has($table->name) || $has($table->endpoint->source->name));
            $sources = $sources->filter(fn (Source $source): bool => $has($source->name) || $tables->contains(fn (KeptTable $table): bool => $table->endpoint->source_id === $source->id));
            $queries = $queries->filter(fn (SavedQuery $query): bool => $has($query->name) || $tables->contains(fn (KeptTable $table): bool => self::reads($query, $table)));
        }
        [$this->sources, $this->tables, $this->queries] = [$sources->count(), $tables->count(), $queries->count()];
        $this->more = max(0, $tables->count() - self::MOST_TABLES);
        $failed = $this->failedRuns($environment);
        $refused = $this->refusedTries($environment);

        $y = 0;
        foreach ($sources as $source) {
            $own = $tables->take(self::MOST_TABLES)->filter(fn (KeptTable $table): bool => $table->endpoint->source_id === $source->id)->values();
            $height = max(60, $own->count() * 66 - 18);
            $waits = ($refused[$source->id]->diagnosis['code'] ?? '') === 'consent';
            $state = $waits ? 'ochre' : (isset($refused[$source->id]) ? 'iron' : ($own->isEmpty() ? 'none' : 'fresh'));
            $sub = $waits ? 'waits for consent' : (isset($refused[$source->id]) ? 'last try failed' : ($own->isEmpty() ? 'nothing kept yet' : Show::count($own->count(), 'table')));
            $this->box("s$source->id", 'source', $y + intdiv($height - 60, 2), 60, $source->name, $sub, $this->maySeeSources ? route('sources.show', $source) : null, $state);
            foreach ($own as $number => $table) {
                $state = isset($failed[$table->endpoint_id]) ? 'iron' : ($table->refreshed_at->diffInHours(now()) > self::AGEING ? 'ochre' : 'fresh');
                $this->box("t$table->id", 'table', $y + $number * 66, 48, $table->name, Show::count($table->rows, 'row').' · '.Show::ago($table->refreshed_at), route('tables.show', $table->name), $state);
                $this->band("s$source->id", "t$table->id", $table->rows, $state);
            }
            $y += $height + 28;
        }
        $this->height = $y;
        $this->drawQueries($queries->all(), $tables->take(self::MOST_TABLES)->all());
        $this->height = max(120, $this->height);
        $this->collectNeeds($failed, $refused, $environment);
    }

    /**
     * @param  array<array-key, SavedQuery>  $queries
     * @param  array<array-key, KeptTable>  $tables
     */
    private function drawQueries(array $queries, array $tables): void
    {
        $y = 0;
        foreach ($queries as $query) {
            $read = array_filter($tables, static fn (KeptTable $table): bool => self::reads($query, $table));
            $this->box("q$query->id", 'query', $y, 48, $query->name, $read === [] ? 'reads no kept table' : 'reads '.Show::count(count($read), 'table'), route('queries.show', $query), 'none');
            foreach (array_values($read) as $place => $table) {
                $this->band("t$table->id", "q$query->id", $table->rows, 'fresh', (int) round(48 * ($place + 1) / (count($read) + 1)));
            }
            $y += 66;
        }
        $this->height = max($this->height, $y);
    }

    private static function reads(SavedQuery $query, KeptTable $table): bool
    {
        return preg_match('/(?<![\w$])'.preg_quote($table->name, '/').'(?![\w$])/i', $query->sql) === 1;
    }

    private function box(string $id, string $kind, int $y, int $h, string $title, string $sub, ?string $url, string $state): void
    {
        $this->boxes[] = ['id' => $id, 'kind' => $kind, 'x' => self::X[$kind], 'y' => $y + 1, 'w' => self::W[$kind], 'h' => $h, 'title' => mb_strimwidth($title, 0, 27, '…', 'UTF-8'), 'mono' => $kind === 'table', 'sub' => mb_strimwidth($sub, 0, 32, '…', 'UTF-8'), 'url' => $url, 'state' => $state];
    }

    private function band(string $from, string $to, int $rows, string $state, ?int $into = null): void
    {
        $a = $this->find($from);
        $b = $this->find($to);
        $x1 = $a['x'] + $a['w'];
        $y1 = $a['y'] + intdiv($a['h'], 2);
        $x2 = $b['x'];
        $y2 = $b['y'] + ($into ?? intdiv($b['h'], 2));
        $mid = intdiv($x1 + $x2, 2);
        // A column of tables spreads over the height of its source, so that bands do not lie on each other.
        $y1 = max($a['y'] + 14, min($a['y'] + $a['h'] - 14, $y2));
        $this->bands[] = ['from' => $from, 'to' => $to, 'd' => "M$x1 {$y1}C$mid $y1 $mid $y2 $x2 $y2", 'width' => round(3 + 3.5 * log10(max(1, $rows)), 1), 'state' => $state];
    }

    /**
     * @return array{id: string, kind: string, x: int, y: int, w: int, h: int, title: string, mono: bool, sub: string, url: string|null, state: string}
     */
    private function find(string $id): array
    {
        foreach ($this->boxes as $box) {
            if ($box['id'] === $id) {
                return $box;
            }
        }

        throw new \LogicException("There is no box $id.");
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

    /**
     * @param  array<int, Run>  $failed
     * @param  array<int, Tryout>  $refused
     */
    private function collectNeeds(array $failed, array $refused, Environment $environment): void
    {
        foreach (DB::table('paces')->join('sources', 'sources.id', '=', 'paces.source_id')->where('environment_id', $environment->id)->where('breaker', 'open')->get(['sources.name', 'sources.slug']) as $one) {
            $this->needsALook[] = ['tag' => 'left alone', 'state' => 'i', 'title' => (string) $one->name, 'text' => 'It has failed for long, so runs wait for it to be back.', 'url' => $this->maySeeSources ? route('sources.show', $one->slug) : null, 'link' => 'Open the source'];
        }
        $filled = KeptTable::query()->where('environment_id', $environment->id)->where('is_branch', false)->whereNotNull('run_id')->pluck('run_id')->all();
        foreach (Run::query()->with('endpoint')->whereIn('id', $filled)->whereNotNull('findings')->get() as $run) {
            foreach (array_filter($run->findings ?? [], static fn (array $finding): bool => $finding['doubt']) as $finding) {
                $this->needsALook[] = ['tag' => 'in doubt', 'state' => 'o', 'title' => $run->endpoint->name, 'text' => $finding['sentence'], 'url' => $this->maySeeSources ? route('runs.show', $run) : null, 'link' => 'Open the run'];
            }
        }
        foreach ($this->maySeeSources ? Drift::open($environment)->with('endpoint')->get()->groupBy('endpoint_id') : [] as $all) {
            $first = $all->first();
            $table = $first === null ? null : KeptTable::query()->where('endpoint_id', $first->endpoint_id)->where('environment_id', $environment->id)->orderBy('is_branch')->first();
            if ($first !== null && $table !== null) {
                $this->needsALook[] = ['tag' => 'drift', 'state' => 'o', 'title' => $table->name, 'text' => $first->sentence.($all->count() > 1 ? ' And '.($all->count() - 1).' more.' : ''), 'url' => route('tables.show', $table->name), 'link' => 'Resolve'];
            }
        }
        foreach ($failed as $run) {
            $this->needsALook[] = ['tag' => 'failed', 'state' => 'i', 'title' => $run->endpoint->name, 'text' => ($this->maySeeSources ? $run->diagnosis['what'] ?? null : null) ?? 'The last refresh failed; the rows from before are still there.', 'url' => $this->maySeeSources ? route('runs.show', $run) : null, 'link' => 'Open the run'];
        }
        foreach ($this->maySeeSources ? $refused : [] as $try) {
            $source = Source::query()->find($try->source_id);
            if ($source !== null) {
                $this->needsALook[] = ['tag' => ($try->diagnosis['code'] ?? '') === 'consent' ? 'consent' : 'refused', 'state' => ($try->diagnosis['code'] ?? '') === 'consent' ? 'o' : 'i', 'title' => $source->name, 'text' => ($try->diagnosis['what'] ?? 'The last try failed.'), 'url' => $this->maySeeSources ? route('sources.show', $source) : null, 'link' => 'Open the source'];
            }
        }
        foreach ($this->maySeeSources ? Secret::query()->with('source')->where('environment_id', $environment->id)->whereNotNull('ends_on')->where('ends_on', '<=', Carbon::now()->addDays(14))->orderBy('ends_on')->get() : [] as $secret) {
            $days = (int) Carbon::now()->startOfDay()->diffInDays($secret->ends_on, false);
            $this->needsALook[] = ['tag' => $days < 0 ? 'ended' : ($days === 0 ? 'ends today' : "$days d left"), 'state' => $days < 0 ? 'i' : 'o', 'title' => $secret->source->name, 'text' => "Its secret \"$secret->name\" ".($days < 0 ? 'ended' : 'ends').' on '.$secret->ends_on?->format('Y-m-d').'.', 'url' => route('sources.show', [$secret->source, 'secret' => $secret->name]).'#secret-form', 'link' => 'Replace it'];
        }
        foreach ($this->boxes as $box) {
            if ($box['kind'] === 'table' && $box['state'] === 'ochre') {
                $this->needsALook[] = ['tag' => 'ageing', 'state' => 'o', 'title' => $box['title'], 'text' => 'Not refreshed for more than a day.', 'url' => $box['url'], 'link' => 'Open the table'];
            }
        }
    }
}
