<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Models\TableState;
use App\Reservoir\KeepFailed;
use App\Reservoir\MergedRows;
use App\Reservoir\TableHistory;
use App\Reservoir\TableShape;
use DeepSpring\History\HistorySettings;
use DeepSpring\History\InvalidHistory;
use DeepSpring\History\StateNames;
use DeepSpring\Value\Phrase;
use Illuminate\Database\LostConnectionDetector;
use Illuminate\Database\QueryException;
use Illuminate\Support\Carbon;
use Illuminate\Support\Collection;

/**
 * Has earlier states of tables stay, as `keep.history` says. Each is written down before it is made, so that none
 * is left behind or lost whatever ends the process.
 */
final class TableStates
{
    /** Seconds without a sign of life while rows are copied or compared. */
    private const WORKING = 600;

    /** The run that merged, in this process and from its beginning. */
    private ?int $merging = null;

    public function __construct(private readonly TableHistory $history)
    {
    }

    /**
     * The present state is about to be replaced, or with a merge to be changed where it is.
     *
     * @param  bool  $isMerged  whether the tables stay where they are
     *
     * @throws KeepFailed
     */
    public function before(RunWork $work, bool $isMerged = false): void
    {
        $settings = $this->settings($work);
        if ($settings === null) {
            return;
        }
        $this->merging = $isMerged && $work->run->attempt === 1 ? $work->run->id : null;
        $this->settle($work->run);
        $work->recorder->beat(self::WORKING);
        $names = [];
        foreach ($this->tables($work) as $table) {
            if ($settings->isOfChanges()) {
                // What an earlier run put in place and did not come to write down.
                $this->record($work, $table, $table->run_id, $table->refreshed_at);
            } else {
                $names[$table->name] = $this->announce($work->run, $table, $isMerged);
            }
        }
        if (! $isMerged) {
            $work->staged->leaveOld($names);

            return;
        }
        foreach ($names as $table => $name) {
            // One that an earlier process of the same run made is of before it merged anything.
            $this->history->has($work->run->environment, $name) || $this->history->copy($work->run->environment, $work->run->owner(), $table, $name);
        }
    }

    /**
     * The new state is in place. What cannot be written down now is at the next refresh.
     */
    public function after(RunWork $work): void
    {
        $settings = $this->settings($work);
        if ($settings === null) {
            return;
        }
        try {
            $this->write($work, $settings);
        } catch (QueryException $refused) {
            if ((new LostConnectionDetector)->causedByLostConnection($refused)) {
                throw $refused;
            }
            report($refused);
            $work->recorder->log(1, null, 'history', 'The new rows are in place. The state before them could not be written down: '.mb_strimwidth(mb_scrub($refused->getPrevious()?->getMessage() ?? '', 'UTF-8'), 0, 300, '…').'. The next refresh tries again.');
        }
    }

    private function write(RunWork $work, HistorySettings $settings): void
    {
        $work->recorder->beat(self::WORKING);
        $made = TableState::query()->where(['environment_id' => $work->run->environment_id, 'replaced_by' => $work->run->id, 'ready' => false])->get();
        $isSame = $work->run->changes !== null && $made->contains('copied', true) && array_sum(array_intersect_key($work->run->changes, ['new' => 1, 'changed' => 1, 'gone' => 1])) === 0;
        foreach ($made as $state) {
            $isSame ? $this->forget($state) : $state->update(['ready' => true, 'until' => Carbon::now()]);
        }
        foreach ($this->tables($work) as $table) {
            $settings->isOfChanges() ? $this->recordAndThin($work, $table, $settings) : $this->thin($work, $table, $settings);
        }
    }

    /**
     * States that an earlier process announced and did not come to finish: what was in place and is aside counts, a
     * copy of what was not replaced does not.
     */
    public function settle(Run $run): void
    {
        $left = TableState::query()->with('environment')->where(['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id, 'kind' => TableState::SNAPSHOT, 'ready' => false])->where('replaced_by', '!=', $run->id)->get();
        foreach ($left as $state) {
            $isTrue = $this->history->has($state->environment, $state->name) && (! $state->copied || Run::query()->find($state->replaced_by)?->state === RunState::Done);
            $isTrue ? $state->update(['ready' => true, 'until' => $state->until ?? Carbon::now()]) : $this->forget($state);
        }
    }

    /**
     * All of what stays of an endpoint, or of one of its tables.
     *
     * @return list<string> names of what is gone
     */
    public function forgetAll(Endpoint $endpoint, Environment $environment, ?string $table = null): array
    {
        $states = TableState::query()->with('environment')->where(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id])->when($table !== null, static fn ($query) => $query->where('table', $table))->orderBy('id')->get();
        $states->each($this->forget(...));

        return array_values($states->pluck('name')->map(strval(...))->all());
    }

    /**
     * Tables of states that nothing knows any more, since their endpoint was deleted.
     */
    public function dropOrphans(): void
    {
        foreach (Environment::query()->get() as $environment) {
            // The tables first: a state is written down before its table is made, so one that is made meanwhile is not among these.
            $there = $this->history->states($environment);
            $known = [...TableState::query()->where('environment_id', $environment->id)->pluck('name')->all(), ...KeptTable::query()->where('environment_id', $environment->id)->pluck('name')->all()];
            $this->history->drop($environment, array_values(array_diff($there, $known)));
        }
    }

    /**
     * Its right to be read goes first.
     */
    private function forget(TableState $state): void
    {
        $state->delete();
        $this->history->drop($state->environment, [$state->name]);
    }

    /**
     * @throws KeepFailed
     */
    private function settings(RunWork $work): ?HistorySettings
    {
        try {
            return $work->run->isTry() ? null : HistorySettings::of($work->endpoint->endpoint['keep']['history'] ?? [], $work->plan);
        } catch (InvalidHistory $invalid) {
            throw KeepFailed::because("{$invalid->getMessage()} It stands under Keep.");
        }
    }

    /**
     * @return Collection<int, KeptTable> that are in place, of those that the run fills
     */
    private function tables(RunWork $work): Collection
    {
        $names = array_map(static fn ($shape): string => $shape->name, $work->staged->shapes());

        return KeptTable::query()->where(['endpoint_id' => $work->run->endpoint_id, 'environment_id' => $work->run->environment_id])->whereIn('name', $names)->orderBy('id')->get()->toBase();
    }

    private function announce(Run $run, KeptTable $table, bool $isCopied): string
    {
        $there = TableState::query()->where(['environment_id' => $run->environment_id, 'table' => $table->name, 'replaced_by' => $run->id, 'ready' => false])->first();
        if ($there !== null) {
            return $there->name;
        }
        $name = StateNames::snapshot($table->name, $table->refreshed_at->toDateTimeImmutable(), fn (string $name): bool => $this->isTaken($run, $name));
        TableState::query()->create([
            'environment_id' => $run->environment_id, 'endpoint_id' => $run->endpoint_id, 'table' => $table->name, 'name' => $name, 'kind' => TableState::SNAPSHOT, 'copied' => $isCopied,
            'run_id' => $table->run_id, 'replaced_by' => $run->id, 'rows' => $table->rows, 'columns' => $table->columns, 'key' => $table->key, 'state_at' => $table->refreshed_at,
        ]);

        return $name;
    }

    private function isTaken(Run $run, string $name): bool
    {
        return KeptTable::query()->where(['environment_id' => $run->environment_id, 'name' => $name])->exists() || TableState::query()->where(['environment_id' => $run->environment_id, 'name' => $name])->exists() || $this->history->has($run->environment, $name);
    }

    private function recordAndThin(RunWork $work, KeptTable $table, HistorySettings $settings): void
    {
        $state = $this->record($work, $table, $work->run->id, $table->refreshed_at, $this->merged($work, $table));
        [$gone, $rows] = $this->history->thin($work->run->environment, $state->name, Carbon::now()->subDays($settings->days), $settings->rows);
        $state->update(['rows' => $rows]);
        $gone === 0 || $work->recorder->log(2, null, 'history', Phrase::count($gone, 'version')." in {$state->name} went: they are older than {$settings->days} days, or more than {$settings->rows} in all.");
    }

    /**
     * The rows that are in place into the versions, once for each run.
     */
    private function record(RunWork $work, KeptTable $table, ?int $run, Carbon $at, ?MergedRows $merged = null): TableState
    {
        $state = TableState::query()->where(['environment_id' => $table->environment_id, 'table' => $table->name, 'kind' => TableState::CHANGES])->latest('id')->first();
        if ($state !== null && $state->key !== $table->key) {
            $state = $this->beginAnew($work, $state, 'the key is another one');
        }
        $isNew = $state === null;
        $state ??= $this->begin($work->run, $table, $at);
        if ($state->run_id === $run && $run !== null) {
            return $state;
        }
        try {
            $counts = $this->history->record($work->run->environment, $table->name, $state->name, $table->key, array_column($table->columns, 'name'), $at, $isNew ? null : $merged);
        } catch (KeepFailed $other) {
            $this->beginAnew($work, $state, $other->getMessage());
            $state = $this->begin($work->run, $table, $at);
            $counts = $this->history->record($work->run->environment, $table->name, $state->name, $table->key, array_column($table->columns, 'name'), $at);
        }
        $state->update(['run_id' => $run, 'ready' => true, 'columns' => $this->grown($state->columns, $table->columns)]);
        $work->recorder->log(2, null, 'history', "{$state->name}: ".Phrase::number($counts->new).' began, '.Phrase::number($counts->changed).' changed, '.Phrase::number($counts->gone).' ended.');

        return $state;
    }

    /**
     * The records that an increment merged, where they are the only ones that can have changed since the versions
     * were last written.
     */
    private function merged(RunWork $work, KeptTable $table): ?MergedRows
    {
        if ($this->merging !== $work->run->id || $work->increment === null) {
            return null;
        }
        $shapes = $work->staged->shapes();
        $number = (int) array_search($table->name, array_map(static fn (TableShape $shape): string => $shape->name, $shapes), true);
        $names = static fn (int $of): array => array_map(static fn (int $place): string => $shapes[$of]->columns[$place]->name, $work->increment->rule->key[$of]);

        return new MergedRows($work->staged->lent()[0]->granted, array_combine($names($number), $names(0)), ($work->run->changes['gone'] ?? 0) > 0);
    }

    /**
     * @param  list<array{name: string, given: string, type: string, label: string, scale: int|null, from: string, comment?: string, mask?: string, title?: string, unit?: string}>  $were
     * @param  list<array{name: string, given: string, type: string, label: string, scale: int|null, from: string, comment?: string, mask?: string, title?: string, unit?: string}>  $are
     * @return list<array{name: string, given: string, type: string, label: string, scale: int|null, from: string, comment?: string, mask?: string, title?: string, unit?: string}>
     */
    private function grown(array $were, array $are): array
    {
        return [...$are, ...array_values(array_filter($were, static fn (array $one): bool => ! in_array($one['name'], array_column($are, 'name'), true)))];
    }

    private function begin(Run $run, KeptTable $table, Carbon $at): TableState
    {
        return TableState::query()->create([
            'environment_id' => $run->environment_id, 'endpoint_id' => $run->endpoint_id, 'table' => $table->name, 'name' => StateNames::changes($table->name, fn (string $name): bool => $this->isTaken($run, $name)), 'kind' => TableState::CHANGES,
            'rows' => 0, 'columns' => $table->columns, 'key' => $table->key, 'state_at' => $at,
        ]);
    }

    /**
     * The versions so far stay as they are, to be read beside new ones.
     */
    private function beginAnew(RunWork $work, TableState $state, string $why): null
    {
        $state->update(['kind' => TableState::ENDED, 'until' => Carbon::now()]);
        $work->recorder->log(1, null, 'history', "The versions in {$state->name} end here, and others begin: $why");

        return null;
    }

    /**
     * More states than asked for, too old ones, and those beyond the number of rows.
     */
    private function thin(RunWork $work, KeptTable $table, HistorySettings $settings): void
    {
        $rows = 0;
        $oldest = Carbon::now()->subDays($settings->days);
        foreach (TableState::of($table, TableState::SNAPSHOT)->with('environment')->get() as $place => $state) {
            $rows += $state->rows;
            $why = match (true) {
                $place >= (int) $settings->snapshots => "more than {$settings->snapshots}",
                $state->until !== null && $state->until < $oldest => "replaced more than {$settings->days} days ago",
                $rows > $settings->rows => 'more than '.Phrase::count($settings->rows, 'row').' in all',
                default => null,
            };
            if ($why !== null) {
                $this->forget($state);
                $work->recorder->log(2, null, 'history', "The state {$state->name} went: $why.");
            }
        }
    }
}
