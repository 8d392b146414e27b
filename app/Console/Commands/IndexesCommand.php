<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Models\KeptTable;
use App\Models\TableIndex;
use App\Queries\IndexAdvisor;
use App\Reservoir\IndexMustWait;
use App\Reservoir\IndexThere;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableIndexes;
use App\Runs\TableIndexing;
use DeepSpring\Indexing\IndexProposal;
use DeepSpring\Value\Phrase;
use Illuminate\Database\Eloquent\Collection;

final class IndexesCommand extends SpringCommand
{
    protected $signature = 'spring:indexes {table? : Its name; without it, all tables with an index or a proposal} {--add= : Columns of an index to build, with commas between} {--drop= : Columns of an index to drop} {--environment= : Environment}';

    protected $description = 'Lists the indexes of kept tables and proposes others, builds one, drops one';

    public function work(TableIndexes $indexes, IndexAdvisor $advisor, TableIndexing $indexing): int
    {
        $name = $this->argument('table');
        $changes = array_filter(['add' => $this->option('add'), 'drop' => $this->option('drop')], static fn ($option): bool => $option !== null);
        if ($changes !== [] && $name === null) {
            throw new WrongUse('Say of which table.');
        }
        if (is_string($name)) {
            $table = $this->keptTable($name) ?? throw $this->noTable($name);
            if ($changes === []) {
                $this->tell($table, $indexes, $advisor, true);
            }

            return $changes === [] ? self::DONE : $this->change($table, $changes, $indexing);
        }
        $told = 0;
        foreach ($this->tables() as $table) {
            $told += $this->tell($table, $indexes, $advisor, false);
        }
        $told > 0 || $this->say('No kept table has an index besides its key, and none is proposed.');

        return self::DONE;
    }

    /**
     * One line each: table, environment, columns, state, more of it.
     *
     * @return int how many
     */
    private function tell(KeptTable $table, TableIndexes $indexes, IndexAdvisor $advisor, bool $withKey): int
    {
        $lines = $withKey && $table->key !== [] ? [[$table->key, 'key', '']] : [];
        $there = $indexes->there($table->environment, $table->name);
        $taken = TableIndex::of($table)->get();
        foreach ($taken as $index) {
            $found = array_values(array_filter($there, static fn (IndexThere $one): bool => $one->columns === $index->columns));
            $lines[] = [$index->columns, $index->fault !== null ? 'not built' : ($found === [] ? 'being built' : ($index->isUnused() ? 'unused' : 'built')), $index->fault ?? ($found === [] ? '' : implode(', ', array_filter([
                $found[0]->bytes === null ? null : Phrase::bytes($found[0]->bytes), 'built in '.Phrase::duration($index->milliseconds ?? 0),
                $index->used_at === null ? 'served no statement yet' : "last served one at {$index->used_at->format('Y-m-d H:i')} UTC",
            ])))];
        }
        foreach ($advisor->proposals($table) as $proposal) {
            if (! $taken->contains('columns', $proposal->columns)) {
                $lines[] = [$proposal->columns, 'proposed', implode(' ', $proposal->reasons).' '.$this->cost($table, $proposal, $advisor)];
            }
        }
        foreach ($lines as [$columns, $state, $more]) {
            $this->giveLine(rtrim("$table->name\t{$table->environment->slug}\t".implode(',', $columns)."\t$state\t$more"));
        }

        return count($lines);
    }

    private function cost(KeptTable $table, IndexProposal $proposal, IndexAdvisor $advisor): string
    {
        $cost = $advisor->cost($table, $proposal->columns);

        return 'About '.Phrase::bytes($cost->bytes).' and '.Phrase::duration($cost->milliseconds).' with each refresh.';
    }

    /**
     * @param  array<string, mixed>  $changes
     */
    private function change(KeptTable $table, array $changes, TableIndexing $indexing): int
    {
        $columns = static fn (mixed $list): array => array_values(array_filter(array_map(trim(...), explode(',', (string) $list)), static fn (string $one): bool => $one !== ''));
        try {
            if (isset($changes['add'])) {
                $indexing->want($table, $columns($changes['add']), null);
            }
            if (isset($changes['drop'])) {
                $index = TableIndex::of($table)->where('mark', TableIndex::markOf($columns($changes['drop'])))->first();
                $indexing->drop($index ?? throw KeepFailed::because("$table->name has no such index. ./spring indexes $table->name lists them."), $table);
            }
            $indexing->align($table);
        } catch (KeepFailed $failed) {
            $this->say($failed->getMessage());

            return self::REFUSED;
        } catch (IndexMustWait $wait) {
            $this->say("{$wait->getMessage()} It is done as soon as that is over.");

            return self::DONE;
        }
        foreach (TableIndex::of($table)->whereNotNull('fault')->get() as $index) {
            $this->say(implode(', ', $index->columns).": $index->fault");
        }

        return isset($changes['add']) && TableIndex::of($table)->where('mark', TableIndex::markOf($columns($changes['add'])))->whereNotNull('fault')->exists() ? self::REFUSED : self::DONE;
    }

    /**
     * @return Collection<int, KeptTable>
     */
    private function tables(): Collection
    {
        $asked = $this->option('environment');

        return KeptTable::query()->with(['endpoint.source', 'environment'])->orderBy('name')->orderBy('environment_id')
            ->when(is_string($asked) && $asked !== '', fn ($query) => $query->whereHas('environment', fn ($environment) => $environment->where('slug', $asked)))->get();
    }
}
