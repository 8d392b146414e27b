<?php

declare(strict_types=1);

namespace App\Runs;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\StatementUse;
use App\Models\TableIndex;
use App\Models\User;
use App\Reservoir\IndexMustWait;
use App\Reservoir\IndexThere;
use App\Reservoir\KeepFailed;
use App\Reservoir\StagedTables;
use App\Reservoir\TableIndexes;
use App\Reservoir\TableShape;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Carbon;

/**
 * Indexes that are wanted of kept tables, and those that are there. One is built at once beside the rows
 * that are read, and with the rows of every refresh.
 */
final readonly class TableIndexing
{
    /** Most indexes of one table. */
    public const MOST = 16;

    /** Most columns of a table whose values are surveyed. */
    private const SURVEYED = 8;

    public function __construct(private TableIndexes $indexes, private AuditLog $log)
    {
    }

    /**
     * @param  list<string>  $columns
     *
     * @throws KeepFailed when there cannot be such an index
     */
    public function want(KeptTable $table, array $columns, ?User $person): TableIndex
    {
        $this->refuse($table, $columns);
        $index = TableIndex::query()->firstOrCreate(
            ['environment_id' => $table->environment_id, 'table' => $table->name, 'mark' => TableIndex::markOf($columns)],
            ['columns' => $columns, 'user_id' => $person?->id],
        );
        $this->log->note(Action::IndexAdded, "$table->name: ".implode(', ', $columns), $table->environment->name);
        AlignIndexes::dispatch($table->id);

        return $index;
    }

    /**
     * @param  list<string>  $columns
     */
    private function refuse(KeptTable $table, array $columns): void
    {
        $there = [];
        foreach ($table->keptColumns() as $column) {
            $there[$column->name] = $column;
        }
        foreach ($columns as $column) {
            match (true) {
                ! isset($there[$column]) => throw KeepFailed::because("$table->name has no column \"$column\". There are: ".implode(', ', array_keys($there)).'.'),
                $there[$column]->type === 'json' => throw KeepFailed::because("$column holds JSON, which cannot be in an index."),
                default => null,
            };
        }
        match (true) {
            $columns === [] => throw KeepFailed::because('An index needs at least one column.'),
            count($columns) > 8 => throw KeepFailed::because('An index here has at most 8 columns.'),
            count(array_unique($columns)) < count($columns) => throw KeepFailed::because('Each column stands in an index once.'),
            array_slice($table->key, 0, count($columns)) === $columns => throw KeepFailed::because('The key of the table begins with '.implode(', ', $columns).' already, so nothing would be quicker.'),
            TableIndex::of($table)->count() >= self::MOST => throw KeepFailed::because('A table has at most '.self::MOST.' indexes besides its key. Drop one that is not used.'),
            default => null,
        };
    }

    public function drop(TableIndex $index, KeptTable $table): void
    {
        $index->delete();
        $this->log->note(Action::IndexDropped, "$table->name: ".implode(', ', $index->columns), $table->environment->name);
        AlignIndexes::dispatch($table->id);
    }

    /**
     * Builds what is wanted and not there, and drops what is there and not wanted.
     *
     * @throws IndexMustWait
     */
    public function align(KeptTable $table): void
    {
        $there = array_map(static fn (IndexThere $one): array => $one->columns, $this->indexes->there($table->environment, $table->name));
        $wanted = TableIndex::of($table)->get();
        foreach ($there as $columns) {
            if (! $wanted->contains('columns', $columns)) {
                $this->indexes->drop($table, $columns);
            }
        }
        foreach ($wanted as $index) {
            if (in_array($index->columns, $there, true)) {
                $index->built_at === null && $this->built($index, $index->milliseconds, null);

                continue;
            }
            $begun = hrtime(true);
            try {
                $this->indexes->add($table, $index->columns);
                $this->built($index, (int) round((hrtime(true) - $begun) / 1e6), null);
            } catch (KeepFailed $failed) {
                $this->built($index, null, $failed->getMessage());
            }
        }
    }

    /**
     * Over the rows of a run, before they are put in place, and with a look at the values that statements compare.
     *
     * @return list<string> what came of it, a sentence each
     */
    public function build(Environment $environment, StagedTables $staged): array
    {
        $names = array_map(static fn (TableShape $shape): string => $shape->name, $staged->shapes());
        $staged->survey($this->compared($environment, $names));
        $rows = TableIndex::query()->where('environment_id', $environment->id)->whereIn('table', $names)->orderBy('id')->get();
        $wanted = [];
        foreach ($rows as $row) {
            $wanted[$row->table][] = $row->columns;
        }
        $sentences = [];
        foreach ($wanted === [] ? [] : $staged->index($wanted) as $built) {
            $row = $rows->first(static fn (TableIndex $row): bool => $row->table === $built->table && $row->columns === $built->columns);
            $row !== null && $this->built($row, $built->fault === null ? $built->milliseconds : null, $built->fault);
            $over = "$built->table (".implode(', ', $built->columns).')';
            $sentences[] = $built->fault === null ? "Index over $over built in ".Phrase::duration($built->milliseconds).'.' : "No index over $over: $built->fault";
        }

        return $sentences;
    }

    /**
     * Columns that statements compare with values, those of the longest first.
     *
     * @param  list<string>  $tables
     * @return array<string, list<string>> by the name of the table
     */
    private function compared(Environment $environment, array $tables): array
    {
        $columns = [];
        foreach (StatementUse::query()->where('environment_id', $environment->id)->whereIn('table', $tables)->orderByDesc('milliseconds')->limit(200)->get() as $use) {
            $columns[$use->table] = array_slice(array_values(array_unique([...$columns[$use->table] ?? [], ...$use->use['equal'] ?? [], ...$use->use['range'] ?? []])), 0, self::SURVEYED);
        }

        return $columns;
    }

    private function built(TableIndex $index, ?int $milliseconds, ?string $fault): void
    {
        // Only if it is still wanted: it can have been given up meanwhile.
        TableIndex::query()->whereKey($index->id)->update(['built_at' => $fault === null ? Carbon::now() : null, 'milliseconds' => $milliseconds, 'fault' => $fault === null ? null : mb_substr($fault, 0, 500)]);
    }
}
