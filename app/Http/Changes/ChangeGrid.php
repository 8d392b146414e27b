<?php

declare(strict_types=1);

namespace App\Http\Changes;

use App\Changes\ChangeRights;
use App\Changes\ChangeTable;
use App\Models\Change;
use App\Models\ChangeSet;
use App\Models\User;
use App\Reservoir\TablePage;
use App\View\Show;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use Illuminate\Support\Collection;

/**
 * The rows of a page with what is pending in them.
 */
final readonly class ChangeGrid
{
    public ChangeRights $rights;

    public function __construct(public ChangeTable $table, public ?ChangeSet $set, public User $person)
    {
        $this->rights = ChangeRights::of($set->user ?? $person, $table->table->endpoint, $table->table->environment);
    }

    /**
     * New rows first, then the page of the table.
     *
     * @return list<GridRow>
     */
    public function rows(?TablePage $page): array
    {
        $rows = [];
        foreach ($this->set === null ? [] : $this->set->changes()->where('kind', RecordAct::Create)->where('state', '!=', ChangeState::Done)->orderBy('number')->limit(200)->get() as $change) {
            $rows[] = $this->row("new-$change->id", [], $change);
        }
        $names = array_flip(array_values($this->table->names));
        $kept = [];
        foreach ($page->rows ?? [] as $number => $values) {
            $row = $this->table->given(array_intersect_key(array_combine(array_map(static fn ($column): string => $column->name, $this->table->table->keptColumns()), $values), $names));
            $kept[$page->marks[$number] ?? ''] = [$row, Change::hash($this->table->key($row))];
        }
        $hashes = array_column($kept, 1);
        $pending = $this->set === null || $hashes === [] ? new Collection : $this->set->changes()->whereIn('key_hash', $hashes)->where('state', '!=', ChangeState::Done)->get()->keyBy('key_hash');
        $done = $this->done($hashes);
        foreach ($kept as $mark => [$row, $hash]) {
            $rows[] = $this->row((string) $mark, $row, $pending->get($hash), $done[$hash] ?? null);
        }

        return $rows;
    }

    /**
     * @param  array<string, string|null>  $row
     */
    public function row(string $id, array $row, ?Change $change, ?string $done = null): GridRow
    {
        return new GridRow($this->table, $id, $row, $change, $change === null ? [] : $this->faults($change), $this->person->zone, $done);
    }

    /**
     * All that keeps a change from being sent, by column.
     *
     * @return array<string, string>
     */
    public function faults(Change $change): array
    {
        $bound = $this->table->plan->endpoint($change->kind, $change->action);
        if ($bound === null) {
            return ['' => 'The source no longer says how that is done.'];
        }

        return $change->faults + $this->rights->against($change->wanted(), $bound->endpoint->slug) + $this->table->plan->asked($change->wanted())->faults;
    }

    /**
     * Records that were changed, by anybody, and that no refresh has read since.
     *
     * @param  list<string>  $hashes
     * @return array<string, string> hash of the key → since when
     */
    private function done(array $hashes): array
    {
        $kept = $this->table->table;

        return $hashes === [] ? [] : Change::query()->where('state', ChangeState::Done)->whereNull('confirmed_at')->whereIn('key_hash', $hashes)
            ->whereHas('set', static fn ($set) => $set->where(['endpoint_id' => $kept->endpoint_id, 'environment_id' => $kept->environment_id]))
            ->orderBy('done_at')->get(['key_hash', 'done_at'])->mapWithKeys(static fn (Change $change): array => [(string) $change->key_hash => Show::ago($change->done_at)])->all();
    }
}
