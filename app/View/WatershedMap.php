<?php

declare(strict_types=1);

namespace App\View;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Feed;
use App\Models\KeptTable;
use App\Models\NoteKind;
use App\Models\QueryKeep;
use App\Models\Role;
use App\Models\SavedQuery;
use App\Models\Source;
use App\Notes\Causes\AgeingTables;
use Illuminate\Support\Collection;

/**
 * Sources, tables and queries from left to right, with bands between: as wide as there are rows
 * (logarithmic), coloured by freshness, dashed where the last run failed. What needs a look comes
 * first; sources that feed nothing, many tables of one source and many queries of one person fold.
 */
final class WatershedMap
{
    /** Sources that are drawn at once; the rest follows page by page. */
    private const SOURCES = 40;

    /** With more tables than that, those of a source fold into one box. */
    private const TABLES = 24;

    /** Tables of one source that are drawn where there are few in all. */
    private const OF_ONE = 8;

    /** With more queries than that, those of a person fold into one box. */
    private const QUERIES = 24;

    /** In place of the sources behind what is kept of queries. */
    private const OF_QUERIES = 0;

    public readonly WatershedDrawing $drawing;

    public readonly NeedsALook $needs;

    private readonly bool $maySeeSources;

    /** Sources that feed a table. */
    public readonly int $sources;

    public readonly int $tables;

    public readonly int $queries;

    /** @var list<array{name: string, url: string|null}> sources that feed nothing and need no look */
    public readonly array $idle;

    /** Pages of sources; at least one. */
    public readonly int $pages;

    public readonly int $page;

    /** @var array<string, string> tables → the box that stands for it */
    private array $boxOf = [];

    /** @var array<string, int> table → rows */
    private array $rowsOf = [];

    /**
     * @param  Role  $role  of who looks
     * @param  string  $search  part of a name; everything that leads to or from what has it is shown
     * @param  string  $open  short name of a source whose tables are all drawn
     */
    public function __construct(Environment $environment, Role $role, private readonly string $search = '', private readonly string $open = '', int $page = 1)
    {
        $maySeeSources = $this->maySeeSources = $role->mayBuild();
        $tables = KeptTable::query()->where('environment_id', $environment->id)->orderBy('endpoint_id')->orderBy('id')->get(['id', 'name', 'rows', 'refreshed_at', 'endpoint_id', 'rows_of', 'is_view']);
        $ofQueries = Source::query()->where('of_query', true)->pluck('id')->flip();
        $sourceOf = Endpoint::query()->pluck('source_id', 'id')->map(static fn (int $id): int => isset($ofQueries[$id]) ? self::OF_QUERIES : $id)->all();
        $sources = Source::described()->get(['id', 'name', 'slug'])->sortBy('name', SORT_NATURAL | SORT_FLAG_CASE);
        $tables->contains(static fn (KeptTable $table): bool => $sourceOf[$table->endpoint_id] === self::OF_QUERIES) && $sources->push((new Source)->forceFill(['id' => self::OF_QUERIES, 'name' => 'Queries', 'slug' => 'queries']));
        $queries = SavedQuery::query()->with('user:id,name')->where('is_private', false)->orderBy('name')->get(['id', 'name', 'sql', 'user_id']);
        $reads = self::reads($queries, $tables);
        if ($search !== '') {
            $has = static fn (string $text): bool => mb_stripos($text, $search) !== false;
            $names = $sources->pluck('name', 'id');
            $tables = $tables->filter(static fn (KeptTable $table): bool => $has($table->name) || $has((string) $names[$sourceOf[$table->endpoint_id]]))->values();
            $fed = $tables->groupBy(static fn (KeptTable $table): int => $sourceOf[$table->endpoint_id]);
            $kept = $tables->pluck('id', 'name');
            $sources = $sources->filter(static fn (Source $source): bool => $has($source->name) || isset($fed[$source->id]));
            $queries = $queries->filter(static fn (SavedQuery $query): bool => $has($query->name) || array_filter($reads[$query->id], static fn (string $name): bool => isset($kept[$name])) !== []);
        }
        [$this->tables, $this->queries] = [$tables->count(), $queries->count()];
        $this->needs = new NeedsALook($environment, $role);
        $own = $tables->groupBy(static fn (KeptTable $table): int => $sourceOf[$table->endpoint_id]);
        $this->sources = $own->count();

        [$idle, $drawn] = $sources->partition(fn (Source $source): bool => ! isset($own[$source->id]) && ! isset($this->needs->refused[$source->id]));
        $this->idle = array_values($idle->map(fn (Source $source): array => ['name' => $source->name, 'url' => $maySeeSources ? route('sources.show', $source->slug) : null])->all());
        // Stable: among equals the order of names stays.
        $drawn = $drawn->sortBy(fn (Source $source): int => $this->rank($source, $own[$source->id] ?? new Collection))->values();
        $this->pages = max(1, (int) ceil($drawn->count() / self::SOURCES));
        $this->page = max(1, min($page, $this->pages));

        $this->drawing = new WatershedDrawing;
        foreach ($drawn->forPage($this->page, self::SOURCES) as $source) {
            $this->group($source, $own[$source->id] ?? new Collection);
        }
        foreach (QueryKeep::query()->where('environment_id', $environment->id)->get(['name', 'reads']) as $keep) {
            foreach ($keep->reads as $read) {
                $this->drawing->course($this->boxOf[$read] ?? '', $this->boxOf[$keep->name] ?? '', $this->rowsOf[$read] ?? 0, 'fresh');
            }
        }
        foreach ($tables->whereNotNull('rows_of') as $table) {
            $this->drawing->course($this->boxOf[$table->rows_of] ?? '', $this->boxOf[$table->name] ?? '', $table->rows, 'fresh');
        }
        $this->drawing->queries([...$this->boxesOf($queries, $reads), ...$this->boxesOfFeeds($environment)]);
    }

    /**
     * The address of this page with other choices.
     *
     * @param  array<string, string|int|null>  $choices
     */
    public function url(array $choices): string
    {
        return route('watershed', array_filter($choices + ['q' => $this->search, 'open' => $this->open, 'page' => $this->page > 1 ? $this->page : null]));
    }

    /**
     * The tables that each query names, whatever else it says: a name in a text or a comment counts too.
     *
     * @param  Collection<int, SavedQuery>  $queries
     * @param  Collection<int, KeptTable>  $tables
     * @return array<int, list<string>> id of the query → names of tables
     */
    private static function reads(Collection $queries, Collection $tables): array
    {
        $names = [];
        foreach ($tables as $table) {
            $names[strtolower($table->name)] = $table->name;
        }
        $reads = [];
        foreach ($queries as $query) {
            preg_match_all('/[\w$]+/', strtolower($query->sql), $words);
            $reads[$query->id] = array_values(array_intersect_key($names, array_flip($words[0])));
        }

        return $reads;
    }

    /**
     * What failed comes first, then what waits for somebody.
     *
     * @param  Collection<int, KeptTable>  $tables
     */
    private function rank(Source $source, Collection $tables): int
    {
        return match (true) {
            $tables->contains(fn (KeptTable $table): bool => isset($this->needs->failed[$table->endpoint_id])) => 0,
            isset($this->needs->refused[$source->id]) => 1,
            $tables->contains(fn (KeptTable $table): bool => self::isAgeing($table)) => 2,
            default => 3,
        };
    }

    /**
     * @param  Collection<int, KeptTable>  $tables
     */
    private function group(Source $source, Collection $tables): void
    {
        $refused = $this->needs->refused[$source->id] ?? null;
        $waits = $refused === NoteKind::Consent;
        $this->drawing->group([
            'id' => "s$source->id", 'title' => $source->name, 'url' => match (true) {
                $source->id === self::OF_QUERIES => route('queries.index'), $this->maySeeSources => route('sources.show', $source->slug), default => null
            },
            'sub' => $waits ? 'waits for consent' : ($refused !== null ? 'last try failed' : Show::count($tables->count(), 'table')),
            'state' => $waits ? 'ochre' : ($refused !== null ? 'iron' : 'fresh'),
        ], $this->boxesOfTables($source, $tables));
    }

    /**
     * Each table, or one box for those of which nothing has to be said.
     *
     * @param  Collection<int, KeptTable>  $tables
     * @return list<array{id: string, title: string, full: string, sub: string, url: string|null, state: string, rows: int, isBundle: bool}>
     */
    private function boxesOfTables(Source $source, Collection $tables): array
    {
        [$failed, $sound] = $tables->partition(fn (KeptTable $table): bool => isset($this->needs->failed[$table->endpoint_id]));
        $isFolded = $this->open !== $source->slug && $sound->count() > ($this->tables > self::TABLES ? 1 : self::OF_ONE);
        $boxes = [];
        foreach ($isFolded ? $failed : $tables as $table) {
            $state = isset($this->needs->failed[$table->endpoint_id]) ? 'iron' : (self::isAgeing($table) ? 'ochre' : 'fresh');
            $boxes[] = ['id' => "t$table->id", 'title' => $table->name, 'full' => $table->name, 'sub' => $table->is_view ? 'view' : Show::count($table->rows, 'row').' · '.($state === 'iron' ? 'refresh failed' : Show::ago($table->refreshed_at)), 'url' => route('tables.show', $table->name), 'state' => $state, 'rows' => $table->rows, 'isBundle' => false];
            $this->boxOf[$table->name] = "t$table->id";
            $this->rowsOf[$table->name] = $table->rows;
        }
        if ($isFolded) {
            $oldest = $sound->min('refreshed_at');
            $boxes[] = ['id' => "b$source->id", 'title' => $sound->firstOrFail()->name.' + '.($sound->count() - 1).' more', 'full' => Show::count($sound->count(), 'table').' of '.$source->name.': '.$sound->take(12)->pluck('name')->implode(', ').($sound->count() > 12 ? ', …' : '').'. Show each', 'sub' => Show::count((int) $sound->sum('rows'), 'row').' · '.Show::ago($oldest), 'url' => $this->url(['open' => $source->slug]), 'state' => $sound->contains(fn (KeptTable $table): bool => self::isAgeing($table)) ? 'ochre' : 'fresh', 'rows' => (int) $sound->sum('rows'), 'isBundle' => true];
            foreach ($sound as $table) {
                $this->boxOf[$table->name] = "b$source->id";
                $this->rowsOf[$table->name] = $table->rows;
            }
        }

        return $boxes;
    }

    /**
     * The queries that read what is drawn here, and on the first page those that read no kept table.
     *
     * @param  Collection<int, SavedQuery>  $queries
     * @param  array<int, list<string>>  $reads
     * @return list<array{id: string, title: string, sub: string, url: string|null, state: string, reads: array<string, int>}>
     */
    private function boxesOf(Collection $queries, array $reads): array
    {
        $shown = $queries->filter(fn (SavedQuery $query): bool => $this->read($reads[$query->id]) !== [] || ($reads[$query->id] === [] && $this->page === 1));
        $isFolded = $shown->count() > self::QUERIES;
        $boxes = [];
        foreach ($isFolded ? $shown->groupBy('user_id') : $shown->map(static fn (SavedQuery $query): Collection => new Collection([$query])) as $some) {
            $query = $some->firstOrFail();
            $names = array_values(array_unique(array_merge(...$some->map(static fn (SavedQuery $one): array => $reads[$one->id])->values()->all())));
            $boxes[] = [
                'id' => "q$query->id", 'title' => $some->count() === 1 ? $query->name : Show::count($some->count(), 'query', 'queries').' of '.$query->user->name,
                'sub' => $names === [] ? 'reads no kept table' : ($some->count() === 1 ? 'reads ' : 'read ').Show::count(count($names), 'table'),
                'url' => $some->count() === 1 ? route('queries.show', $query) : route('queries.index', ['q' => $query->user->name]), 'state' => 'none', 'reads' => $this->read($names),
            ];
        }

        return $boxes;
    }

    /**
     * Feeds that others read, of the tables that are drawn here.
     *
     * @return list<array{id: string, title: string, sub: string, url: string|null, state: string, reads: array<string, int>}>
     */
    private function boxesOfFeeds(Environment $environment): array
    {
        $feeds = Feed::query()->withCount('consumers')->where(['environment_id' => $environment->id, 'is_on' => true])->orderBy('name')->orderBy('version')->get()->filter(fn (Feed $feed): bool => isset($this->boxOf[$feed->reads]));
        $boxes = [];
        foreach ($feeds->count() > self::QUERIES ? $feeds->groupBy('reads') : $feeds->map(static fn (Feed $feed): Collection => new Collection([$feed])) as $some) {
            $feed = $some->firstOrFail();
            $isOne = $some->count() === 1;
            $boxes[] = [
                'id' => "f$feed->id", 'title' => $isOne ? "/feeds/{$feed->path()}" : Show::count($some->count(), 'feed'), 'sub' => $some->whereNotNull('fault')->isNotEmpty() ? 'has a fault' : ($isOne ? 'read by '.(implode(' and ', array_filter([$feed->for_people ? 'people here' : '', $feed->getAttribute('consumers_count') > 0 ? Show::count((int) $feed->getAttribute('consumers_count'), 'reader') : ''])) ?: 'nobody') : "of $feed->reads"),
                'url' => $isOne ? route('outlets.feed', $feed) : route('outlets.index', ['q' => $feed->reads]), 'state' => $some->whereNotNull('fault')->isNotEmpty() ? 'iron' : 'fresh', 'reads' => $this->read([$feed->reads]),
            ];
        }

        return $boxes;
    }

    /**
     * @param  list<string>  $names
     * @return array<string, int> box → rows that are read of it
     */
    private function read(array $names): array
    {
        $read = [];
        foreach ($names as $name) {
            if (isset($this->boxOf[$name])) {
                $read[$this->boxOf[$name]] = ($read[$this->boxOf[$name]] ?? 0) + $this->rowsOf[$name];
            }
        }

        return $read;
    }

    private static function isAgeing(KeptTable $table): bool
    {
        return ! $table->is_view && $table->refreshed_at->diffInHours(now()) > AgeingTables::HOURS;
    }
}
