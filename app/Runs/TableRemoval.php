<?php

declare(strict_types=1);

namespace App\Runs;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Drift;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Models\SavedQuery;
use App\Models\StatementUse;
use App\Models\TableIndex;
use App\Models\TableProfile;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableStore;
use Illuminate\Database\Eloquent\Collection;

/**
 * Gives up what is kept of an endpoint in an environment: its table, the branches of it, and the pages
 * they were made from. The endpoint stays, and can be kept again.
 */
final readonly class TableRemoval
{
    public function __construct(private TableStore $store, private TableStates $states, private AuditLog $log)
    {
    }

    /**
     * @return Collection<int, KeptTable>
     */
    public function tables(Endpoint $endpoint, Environment $environment): Collection
    {
        return KeptTable::query()->where(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id])->orderBy('id')->get();
    }

    /**
     * Saved queries that name one of the tables.
     *
     * @param  Collection<int, KeptTable>  $tables
     * @return Collection<int, SavedQuery>
     */
    public function readers(Collection $tables): Collection
    {
        $like = '/(?<![\w$])(?:'.implode('|', $tables->map(static fn (KeptTable $one): string => preg_quote($one->name, '/'))->all()).')(?![\w$])/iu';

        return SavedQuery::query()->with('user')->orderBy('name')->get()->filter(static fn (SavedQuery $query): bool => $tables->isNotEmpty() && preg_match($like, $query->sql) === 1)->values();
    }

    /**
     * @return list<string> names of the tables that are gone
     *
     * @throws KeepFailed while they are being read
     */
    public function remove(Endpoint $endpoint, Environment $environment): array
    {
        $open = Run::query()->where(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id])->whereIn('state', [RunState::Queued, RunState::Running])->first();
        if ($open !== null) {
            throw KeepFailed::because("Run $open->id is reading into it. Stop that first.");
        }
        $tables = $this->tables($endpoint, $environment);
        $names = array_values($tables->pluck('name')->map(strval(...))->all());
        // Rights go with these rows, so that nobody reads what is half gone.
        $tables->each(static fn (KeptTable $table) => $table->delete());
        Drift::query()->where(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id])->delete();
        TableIndex::query()->where('environment_id', $environment->id)->whereIn('table', $names)->delete();
        TableProfile::query()->where('environment_id', $environment->id)->whereIn('table', $names)->delete();
        StatementUse::query()->where('environment_id', $environment->id)->whereIn('table', $names)->delete();
        $this->states->forgetAll($endpoint, $environment);
        $this->store->remove($environment, "e$endpoint->id", $names);
        $this->log->note(Action::TablesForgotten, "{$endpoint->source->slug}: $endpoint->slug", implode(', ', $names)." in $environment->name");

        return $names;
    }
}
