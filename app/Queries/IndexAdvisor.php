<?php

declare(strict_types=1);

namespace App\Queries;

use App\Models\KeptTable;
use App\Models\StatementUse;
use App\Models\TableIndex;
use App\Reservoir\IndexCost;
use App\Reservoir\TableIndexes;
use App\Reservoir\TableShape;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Indexing\IndexAdvice;
use DeepSpring\Indexing\IndexProposal;
use DeepSpring\Indexing\TableFacts;
use DeepSpring\Indexing\TableTie;
use DeepSpring\Indexing\TableTies;
use DeepSpring\Indexing\TableUse;
use DeepSpring\Indexing\UseCount;
use Illuminate\Contracts\Cache\Repository;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Which indexes a kept table should have, by what is asked of it and by what it belongs to.
 */
final readonly class IndexAdvisor
{
    /** Seconds that what was measured is taken for true; it is measured anew after each refresh. */
    private const KEPT = 86_400;

    public function __construct(private TableIndexes $indexes, private Repository $cache)
    {
    }

    /**
     * @return list<IndexProposal>
     */
    public function proposals(KeptTable $table): array
    {
        if ($table->rows < IndexAdvice::ROWS) {
            return [];
        }
        $uses = $this->uses($table);
        $ties = $this->ties($table);
        $columns = [];
        foreach ($uses as $use) {
            array_push($columns, ...$use->use->equal, ...$use->use->range, ...array_merge(...$use->use->joined), ...$use->use->grouped, ...$use->use->sorted, ...(count($use->use->read) > 8 ? [] : $use->use->read));
        }
        foreach ($ties as $tie) {
            array_push($columns, ...$tie->columns);
        }

        return $columns === [] ? [] : IndexAdvice::of($this->facts($table, array_values(array_unique($columns))), $uses, $ties);
    }

    /**
     * @param  list<string>  $columns
     */
    public function cost(KeptTable $table, array $columns): IndexCost
    {
        return $this->cache->remember("index-cost:$table->id:".md5(implode("\0", $columns)).":{$table->refreshed_at->format('U.u')}", self::KEPT, fn (): IndexCost => $this->indexes->cost($table, $columns));
    }

    /**
     * @return list<UseCount>
     */
    private function uses(KeptTable $table): array
    {
        $rows = DB::table('statement_uses')->where(['environment_id' => $table->environment_id, 'table' => $table->name])->where('day', '>=', Carbon::now()->subDays(StatementUse::DAYS)->toDateString())
            ->selectRaw('min(`use`) as `use`, sum(times) as times, sum(milliseconds) as milliseconds')->groupBy('mark')->orderByRaw('sum(milliseconds) desc')->limit(500)->get();

        $uses = [];
        foreach ($rows as $row) {
            $uses[] = new UseCount(TableUse::fromArray($table->name, (array) json_decode((string) $row->use, true)), (int) $row->times, (int) $row->milliseconds);
        }

        return $uses;
    }

    /**
     * @return list<TableTie>
     */
    private function ties(KeptTable $table): array
    {
        $ties = $this->toParent($table);
        $others = [];
        foreach (KeptTable::query()->where('environment_id', $table->environment_id)->whereNot('id', $table->id)->orderBy('name')->get() as $other) {
            $type = count($other->key) === 1 ? (array_column($other->columns, 'type', 'name')[$other->key[0]] ?? null) : null;
            if ($type !== null) {
                $others[$other->name] = ['key' => $other->key[0], 'type' => $type];
            }
        }
        $taken = array_map(static fn (TableTie $tie): array => $tie->columns, $ties);

        return [...$ties, ...array_filter(TableTies::toKeys(array_column($table->columns, 'type', 'name'), $others), static fn (TableTie $tie): bool => ! in_array($tie->columns, $taken, true))];
    }

    /**
     * By which columns a branch table belongs to the one it is made from; none for another.
     *
     * @return list<TableTie>
     */
    public function toParent(KeptTable $table): array
    {
        $plan = $table->is_branch ? $table->endpoint->source->published()?->endpoint($table->endpoint->slug)?->plan() : null;
        foreach ($plan?->tables() ?? [] as $parent) {
            foreach ($parent->branches as $branch) {
                $tie = (new TableShape($branch))->name === $table->name ? TableTies::toParent($branch, $parent) : null;
                if ($tie !== null) {
                    return [new TableTie($this->kept($branch, $tie->columns), (new TableShape($parent))->name, true)];
                }
            }
        }

        return [];
    }

    /**
     * @param  list<string>  $columns  in names of the plan
     * @return list<string> as the database knows them
     */
    private function kept(TablePlan $plan, array $columns): array
    {
        $names = array_combine(array_map(static fn ($column): string => $column->name, $plan->columns), TableShape::safeNames($plan));

        return array_map(static fn (string $column): string => $names[$column], $columns);
    }

    /**
     * With what is wanted and not built yet.
     *
     * @param  list<string>  $columns
     */
    private function facts(KeptTable $table, array $columns): TableFacts
    {
        $facts = $this->cache->remember("index-facts:$table->id:".md5(implode("\0", $columns)).":{$table->refreshed_at->format('U.u')}", self::KEPT, fn (): TableFacts => $this->indexes->facts($table, $columns));
        $wanted = TableIndex::of($table)->get()->map(static fn (TableIndex $index): array => $index->columns)->all();

        return new TableFacts($facts->name, $facts->rows, $facts->looked, $facts->key, array_values($wanted), $facts->columns);
    }
}
