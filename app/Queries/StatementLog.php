<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\StatementUse;
use App\Models\TableIndex;
use App\Reservoir\StatementPlan;
use DeepSpring\Indexing\TableUse;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Which columns statements really use, how often and for how long, and which indexes served them. What
 * they compared with is not written down.
 */
final class StatementLog
{
    /** Minutes within which the use of an index is written down once. */
    private const MINUTES = 10;

    /**
     * Kept tables of which a statement uses columns in a way that an index can serve.
     *
     * @return list<string>
     */
    public function tables(Environment $environment, StatementPlan $plan): array
    {
        $names = array_unique(array_map(static fn (TableUse $use): string => $use->table, self::telling($plan)));

        return $names === [] ? [] : array_values(KeptTable::query()->where('environment_id', $environment->id)->whereIn('name', $names)->orderBy('name')->pluck('name')->map(strval(...))->all());
    }

    /**
     * @return list<TableUse>
     */
    private static function telling(StatementPlan $plan): array
    {
        return array_values(array_filter($plan->uses, static fn (TableUse $use): bool => ! $use->isPlain()));
    }

    public function note(Environment $environment, ?StatementPlan $plan, int $milliseconds): void
    {
        $uses = $plan === null ? [] : self::telling($plan);
        if ($plan === null || $uses === [] && $plan->indexes === []) {
            return;
        }
        $kept = array_flip($this->tables($environment, $plan));
        $rows = [];
        foreach ($uses as $use) {
            if (isset($kept[$use->table])) {
                $json = json_encode($use->toArray(), JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE);
                $mark = hash('sha256', $json);
                $rows["$use->table $mark"] = ['environment_id' => $environment->id, 'table' => $use->table, 'use' => $json, 'mark' => $mark, 'day' => Carbon::now()->toDateString(), 'times' => 1, 'milliseconds' => $milliseconds];
            }
        }
        if ($rows !== []) {
            StatementUse::query()->upsert(array_values($rows), ['environment_id', 'table', 'mark', 'day'], ['times' => DB::raw('times + 1'), 'milliseconds' => DB::raw('milliseconds + values(milliseconds)')]);
        }
        foreach ($plan->indexes as $table => $indexes) {
            TableIndex::query()->where(['environment_id' => $environment->id, 'table' => $table])->whereIn('mark', array_map(TableIndex::markOf(...), $indexes))
                ->where(static fn (Builder $any) => $any->whereNull('used_at')->orWhere('used_at', '<', Carbon::now()->subMinutes(self::MINUTES)))
                ->update(['used_at' => Carbon::now()]);
        }
    }
}
