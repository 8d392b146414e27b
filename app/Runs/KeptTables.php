<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Source;
use App\Reservoir\KeepFailed;
use App\Reservoir\StagedTables;
use App\Reservoir\TableShape;
use DeepSpring\Value\SafeNames;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * What the workspace knows of the tables it keeps.
 */
final readonly class KeptTables
{
    public function __construct(private InPlace $afterwards)
    {
    }

    /**
     * A table belongs to the endpoint that made it; another one does not write over it.
     *
     * @throws KeepFailed
     */
    public function refuseForeign(StagedTables $staged, Endpoint $endpoint, Environment $environment): void
    {
        foreach ($staged->shapes() as $shape) {
            $there = TableNames::ofOthers($shape->name, $endpoint->id, $environment);
            if ($there !== null) {
                throw KeepFailed::because(TableNames::refusal($there, $environment));
            }
        }
    }

    /**
     * The tables of a run are in place.
     *
     * @param  array<string, mixed>  $outcome  of the run
     * @param  string|null  $rowsOf  the table whose rows were asked for
     */
    public function replaced(Run $run, StagedTables $staged, array $outcome, ?string $rowsOf = null): void
    {
        $now = Carbon::now();
        DB::transaction(function () use ($run, $staged, $outcome, $rowsOf, $now): void {
            foreach ($staged->shapes() as $number => $shape) {
                KeptTable::query()->updateOrCreate(
                    ['environment_id' => $run->environment_id, 'name' => $shape->name],
                    [
                        'endpoint_id' => $run->endpoint_id, 'run_id' => $run->id, 'is_branch' => $number > 0,
                        'given_name' => $shape->given(), 'columns' => array_map(static fn ($column): array => $column->toArray(), $shape->columns),
                        'texts' => $shape->texts(), 'key' => $shape->key, 'rows' => $staged->counts()->rowsOf[$number], 'refreshed_at' => $now, 'rows_of' => $rowsOf === null ? null : SafeNames::clean($rowsOf),
                    ],
                );
            }
            $run->fill(['state' => RunState::Done] + $outcome)->save();
        });
        $this->afterwards->tables($run);
    }

    /**
     * What is said of tables and columns needs no new rows: it holds once it is published.
     */
    public function describe(Source $source): void
    {
        $file = $source->published();
        foreach (KeptTable::query()->with('endpoint')->whereIn('endpoint_id', $source->endpoints()->pluck('id'))->get() as $table) {
            foreach ($file?->endpoint($table->endpoint->slug)?->plan()?->tables() ?? [] as $plan) {
                $shape = new TableShape($plan);
                if ($shape->name === $table->name) {
                    $said = array_column($shape->columns, null, 'name');
                    $columns = array_map(static function (array $column) use ($said): array {
                        $now = $said[$column['name']] ?? null;

                        return $now === null ? $column : ['title' => $now->title, 'unit' => $now->unit, 'comment' => $now->comment] + $column;
                    }, $table->columns);
                    $table->fill(['texts' => $shape->texts(), 'columns' => $columns])->save();
                }
            }
        }
    }

    /**
     * Nothing has changed at the source, so the tables are as good as read anew.
     *
     * @return int rows that they hold
     */
    public function confirmed(Run $run): int
    {
        $tables = KeptTable::query()->where('endpoint_id', $run->endpoint_id)->where('environment_id', $run->environment_id);
        $rows = (int) $tables->sum('rows');
        $tables->update(['refreshed_at' => Carbon::now()->format('Y-m-d H:i:s.u')]);

        return $rows;
    }
}
