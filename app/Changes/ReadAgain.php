<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\ChangeSet;
use App\Models\Run;
use App\Reservoir\KeepFailed;
use App\Reservoir\RowPatches;
use App\Runs\InPlace;
use App\Secrets\Vault;
use App\Transport\Sent;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use Illuminate\Support\Carbon;

/**
 * A refresh put rows in place. What was changed before it began is confirmed by it; what was changed meanwhile it may
 * have read in its old state, so that is put in again.
 */
final readonly class ReadAgain implements InPlace
{
    /** Seconds before the last word of a process that died, of which rows may not have followed. */
    private const BEFORE_DEATH = 2;

    public function __construct(private Vault $vault, private RowPatches $patches)
    {
    }

    public function tables(Run $run): void
    {
        $began = $run->started_at?->format('Y-m-d H:i:s.u') ?? $run->created_at->format('Y-m-d H:i:s.u');
        // Their numbers, since the database would go through the changes of all tables otherwise.
        $sets = ChangeSet::query()->where(['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id])->pluck('id')->all();
        if ($sets === []) {
            return;
        }
        $done = Change::query()->whereIn('change_set_id', $sets)->where('state', ChangeState::Done)->whereNull('confirmed_at');
        (clone $done)->where('done_at', '<', $began)->update(['confirmed_at' => now()->format('Y-m-d H:i:s.u')]);
        if (! (clone $done)->where('done_at', '>=', $began)->exists()) {
            return;
        }
        $name = (clone $done)->with('set')->firstOrFail()->set->table;
        $table = ChangeTable::named($run->endpoint, $run->environment, $name);
        if ($table !== null) {
            $rows = new KeptRows($table, $this->patches);
            foreach ((clone $done)->where('done_at', '>=', $began)->orderBy('done_at')->orderBy('id')->lazyById(200) as $change) {
                $this->again($change, $table, $rows);
            }
        }
    }

    /**
     * Rows whose change a process wrote down as done, and then died before they followed: those of the last moments of
     * its set that nobody changed since.
     */
    public function afterDeath(ChangeSet $set, ChangeTable $table): void
    {
        $done = $set->changes()->where('state', ChangeState::Done)->whereNull('confirmed_at');
        $last = (clone $done)->max('done_at');
        if (! is_string($last)) {
            return;
        }
        $since = Carbon::parse($last, 'UTC')->subSeconds(self::BEFORE_DEATH)->format('Y-m-d H:i:s.u');
        $rows = new KeptRows($table, $this->patches);
        foreach ($done->where('done_at', '>=', $since)->orderBy('done_at')->lazy(200) as $change) {
            $isOld = Change::query()->where(['state' => ChangeState::Done, 'key_hash' => $change->key_hash])->where('done_at', '>', $change->done_at?->format('Y-m-d H:i:s.u'))
                ->whereHas('set', static fn ($other) => $other->where(['endpoint_id' => $set->endpoint_id, 'environment_id' => $set->environment_id]))->exists();
            $isOld || $this->again($change, $table, $rows);
        }
    }

    private function again(Change $change, ChangeTable $table, KeptRows $rows): void
    {
        try {
            if ($change->kind === RecordAct::Delete) {
                $change->key === null || $rows->remove([$change->key]);

                return;
            }
            $body = $change->record === null ? false : gzinflate($change->record);
            $reader = new RecordReader($table, $this->vault);
            $seen = null;
            foreach ($body === false ? [] : array_filter([$table->plan->endpoint($change->kind, $change->action), $table->plan->get()]) as $bound) {
                $seen ??= $reader->read(Sent::kept('application/json', $body), $bound, $change->before);
            }
            if ($seen !== null) {
                $rows->put([$seen]);
            } elseif ($change->kind === RecordAct::Update && $change->key !== null) {
                $rows->set($change->key, $change->after);
            }
        } catch (KeepFailed) {
            // The next refresh brings it.
        }
    }
}
