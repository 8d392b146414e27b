<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Source;
use App\Reservoir\KeepFailed;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Database\Eloquent\Collection;

/**
 * Tables of a source that are kept though a document of it no longer has their endpoint: nothing would
 * refresh them any more.
 */
final readonly class OrphanedTables
{
    public function __construct(private TableRemoval $removal)
    {
    }

    /**
     * @return Collection<int, KeptTable>
     */
    public function of(Source $source, SourceFile $file): Collection
    {
        $slugs = array_map(static fn ($endpoint): string => $endpoint->slug, $file->endpoints());

        return KeptTable::query()->with(['endpoint', 'environment'])->whereHas('endpoint', static fn ($query) => $query->where('source_id', $source->id)->whereNotIn('slug', $slugs))->orderBy('name')->get();
    }

    /**
     * @param  Collection<int, KeptTable>  $tables
     * @return Collection<int, \App\Models\SavedQuery> saved queries that read them
     */
    public function readers(Collection $tables): Collection
    {
        return $this->removal->readers($tables);
    }

    /**
     * @param  Collection<int, KeptTable>  $tables
     * @return list<string> names of those that are gone
     *
     * @throws KeepFailed while one of them is being read
     */
    public function forget(Collection $tables): array
    {
        $gone = [];
        foreach ($tables->groupBy(static fn (KeptTable $one): string => "$one->endpoint_id/$one->environment_id") as $same) {
            $first = $same->first() ?? throw new \LogicException('A group is never empty.');
            array_push($gone, ...$this->removal->remove($first->endpoint, Environment::query()->findOrFail($first->environment_id)));
        }

        return $gone;
    }
}
