<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\NoteKind;
use App\Models\Run;
use App\Models\RunState;
use App\Notes\Cause;
use App\Notes\CauseFinder;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Facades\DB;

/**
 * Tables whose last refresh failed.
 */
final readonly class FailedRefreshes implements CauseFinder
{
    public function kinds(): array
    {
        return [NoteKind::Refresh];
    }

    public function find(Environment $environment): array
    {
        // The last of each endpoint from the end of an index, however many runs are remembered.
        $last = DB::table('endpoints')->selectRaw('(select r.id from runs r where r.endpoint_id = endpoints.id and r.environment_id = ? and r.kind in ("refresh", "rebuild") and r.state not in (?, ?) order by r.id desc limit 1) as last', [$environment->id, RunState::Queued->value, RunState::Running->value])->pluck('last')->filter();
        $failed = Run::query()->with('endpoint')->whereIn('id', $last)->where('state', RunState::Failed)->get();
        $since = DB::table('runs as failing')->where('environment_id', $environment->id)->whereIn('endpoint_id', $failed->pluck('endpoint_id'))->whereIn('kind', ['refresh', 'rebuild'])->where('state', RunState::Failed->value)
            ->whereRaw('id > coalesce((select max(id) from runs as well where well.endpoint_id = failing.endpoint_id and well.environment_id = failing.environment_id and well.kind in ("refresh", "rebuild") and well.state = ?), 0)', [RunState::Done->value])
            ->groupBy('endpoint_id')->selectRaw('endpoint_id, min(id) as first')->pluck('first', 'endpoint_id');
        $first = Run::query()->whereIn('id', $since->values())->get(['id', 'endpoint_id', 'ended_at', 'created_at'])->keyBy('endpoint_id');
        $tables = KeptTable::query()->where('environment_id', $environment->id)->whereIn('endpoint_id', $failed->pluck('endpoint_id'))->orderBy('is_branch')->get(['endpoint_id', 'name', 'rows', 'refreshed_at'])->groupBy('endpoint_id');

        return array_values($failed->map(static function (Run $run) use ($first, $tables): Cause {
            $table = $tables->get($run->endpoint_id)?->first();
            $begun = $first->get($run->endpoint_id);

            return new Cause(
                NoteKind::Refresh, "e{$run->endpoint_id}", $run->endpoint->name, $run->diagnosis['what'] ?? 'The last refresh failed.', route('runs.show', $run, false),
                $begun->ended_at ?? $begun->created_at ?? $run->created_at, $run->endpoint->source_id, $run->endpoint_id, $table?->name,
                'The last refresh failed'.($table === null ? '.' : '; the rows from before are still there.'), $run->diagnosis['advice'] ?? null,
                $table === null ? 'No table is there yet.' : 'Readers see the '.Phrase::count($table->rows, 'row')." of {$table->refreshed_at->format('Y-m-d H:i')} UTC.",
            );
        })->all());
    }
}
