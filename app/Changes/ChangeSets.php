<?php

declare(strict_types=1);

namespace App\Changes;

use App\Audit\Action;
use App\Audit\AuditLog;
use App\Models\Change;
use App\Models\ChangeSet;
use App\Models\ChangeSetState;
use App\Models\Role;
use App\Models\User;
use App\Reservoir\KeepFailed;
use App\Reservoir\RowPatches;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Sets of changes as a whole: asking for one to be sent, approving it, stopping it, noticing that its process died.
 */
final readonly class ChangeSets
{
    /** Seconds that a set may be under way before its lock is looked at. */
    private const GRACE = 3;

    public function __construct(private AuditLog $log, private RowPatches $patches)
    {
    }

    /**
     * Has a set sent, or asks for approval where the source wants one.
     *
     * @param  int|null  $first  how many are sent before it stops by itself
     * @param  bool  $queue  whether a worker sends it, and not the caller
     *
     * @throws CannotChange
     */
    public function send(ChangeSet $set, ChangeTable $table, User $by, ?int $first = null, bool $queue = true): void
    {
        if ($set->user_id !== $by->id) {
            throw CannotChange::because('Only who made these changes sends them; what is sent carries that name.');
        }
        if ($set->state->isUnderWay()) {
            throw CannotChange::because('It is being sent.');
        }
        $rows = $set->changes()->whereIn('state', [ChangeState::Pending, ChangeState::Unknown])->count();
        if ($rows === 0) {
            throw CannotChange::because('Nothing is pending.');
        }
        if ($set->approved_at === null && $table->plan->needsApproval($rows, $set->environment->slug)) {
            $set->update(['state' => ChangeSetState::Waiting, 'is_shared' => true, 'first' => $first]);
            $this->log->note(Action::ApprovalAsked, $set->table, Phrase::count($rows, 'change').' in '.$set->environment->name, $by);

            return;
        }
        $this->queue($set, $first, $queue);
    }

    /**
     * @throws CannotChange
     */
    public function approve(ChangeSet $set, User $by): void
    {
        if ($set->state !== ChangeSetState::Waiting) {
            throw CannotChange::because('These changes do not wait for approval any more.');
        }
        if ($set->user_id === $by->id) {
            throw CannotChange::because('A second person approves; you made these changes.');
        }
        if (! $this->mayApprove($set, $by)) {
            throw CannotChange::because('Who approves may do the same changes.');
        }
        $set->update(['approved_by' => $by->id, 'approved_at' => Carbon::now()]);
        $this->log->note(Action::ChangesApproved, $set->table, "{$set->user->name}, in {$set->environment->name}", $by);
        $this->queue($set, $set->first);
    }

    public function mayApprove(ChangeSet $set, User $by): bool
    {
        $rights = ChangeRights::of($by, $set->endpoint, $set->environment);
        $kinds = $set->changes()->toBase()->distinct()->pluck('kind');

        return $by->id !== $set->user_id && ($by->role === Role::Administrator || ! $rights->isNone() && $kinds->every(static fn (string $kind): bool => $rights->may(RecordAct::from($kind))));
    }

    /**
     * Back to whoever made them, not sent.
     */
    public function giveBack(ChangeSet $set, User $by): void
    {
        ChangeSet::query()->where(['id' => $set->id, 'state' => ChangeSetState::Waiting])->update(['state' => $set->open !== null ? ChangeSetState::Open : ChangeSetState::Stopped, 'ended' => $by->id === $set->user_id ? 'Taken back before it was approved.' : "$by->name did not approve it."]);
    }

    public function stop(ChangeSet $set): void
    {
        $back = $set->open !== null ? ChangeSetState::Open : ChangeSetState::Stopped;
        if (ChangeSet::query()->where(['id' => $set->id, 'state' => ChangeSetState::Queued])->update(['state' => $back, 'ended' => 'Stopped before it began.', 'approved_by' => null, 'approved_at' => null]) === 0) {
            ChangeSet::query()->where(['id' => $set->id, 'state' => ChangeSetState::Sending])->update(['stop_how' => 'now']);
        }
    }

    /**
     * What a person knows of a change that nobody can look up.
     *
     * @param  string  $how  done, undone, mine (send in spite of what they did), theirs, again
     *
     * @throws CannotChange
     */
    public function settle(Change $change, ChangeTable $table, string $how): void
    {
        $state = $change->state;
        $may = match ($how) {
            'done' => $state === ChangeState::Unknown,
            'undone', 'again' => in_array($state, [ChangeState::Unknown, ChangeState::Refused], true),
            'mine', 'theirs' => $state === ChangeState::Conflict,
            default => false,
        };
        if (! $may || $change->set->state->isUnderWay()) {
            throw CannotChange::because('It is in another state meanwhile. Look again.');
        }
        if ($how === 'done') {
            DB::transaction(static function () use ($change, $table): void {
                $change->update(['state' => ChangeState::Done, 'done_at' => Carbon::now(), 'reason' => "{$change->set->user->name} looked and says that it was done."]);
                Journal::add([Journal::row($change->set, $change, $table, ChangeState::Done, '', '', (string) $change->reason)]);
            });
            $this->follow($change, $table);
        } elseif ($how === 'theirs') {
            $change->delete();
        } else {
            // What they did is what it is changed from.
            $change->update(['state' => ChangeState::Pending, 'before' => ($change->theirs ?? []) + $change->before, 'theirs' => null, 'faults' => [], 'reason' => null, 'mark' => $how === 'mine' ? $change->mark : PendingChanges::mark()]);
        }
    }

    /**
     * The kept row is as the change made it; of a new record nobody knows what it is until the next refresh.
     */
    private function follow(Change $change, ChangeTable $table): void
    {
        if ($change->key === null) {
            return;
        }
        $rows = new KeptRows($table, $this->patches);
        try {
            match ($change->kind) {
                RecordAct::Update => $rows->set($change->key, $change->after),
                RecordAct::Delete => $rows->remove([$change->key]),
                default => null,
            };
        } catch (KeepFailed $failed) {
            $change->update(['reason' => mb_substr("$change->reason {$failed->getMessage()} The next refresh brings it.", 0, 1000)]);
        }
    }

    /**
     * Sets whose process died are gone on with by another.
     */
    public static function rescue(): void
    {
        foreach (ChangeSet::query()->where('state', ChangeSetState::Sending)->where('heartbeat_at', '<', Carbon::now()->subSeconds(self::GRACE)->format('Y-m-d H:i:s.u'))->get() as $set) {
            if (Courier::lock($set)->holder() === null && DB::table('change_sets')->where(['id' => $set->id, 'attempt' => $set->attempt, 'state' => ChangeSetState::Sending->value])->update(['state' => ChangeSetState::Queued->value, 'waits_for' => 'a worker to go on with it', 'updated_at' => Carbon::now()]) === 1) {
                ChangeJob::dispatch($set->id);
            }
        }
        // Those whose job was lost with the queue.
        foreach (ChangeSet::query()->where('state', ChangeSetState::Queued)->where('updated_at', '<', Carbon::now()->subMinutes(2)->format('Y-m-d H:i:s.u'))->get() as $set) {
            $set->touch();
            ChangeJob::dispatch($set->id);
        }
    }

    /**
     * Lets go of sets that are over, and of what is done in those that are open, once a refresh has confirmed it.
     */
    public static function tidy(int $days): void
    {
        $before = Carbon::now()->subDays($days)->format('Y-m-d H:i:s.u');
        ChangeSet::query()->whereIn('state', [ChangeSetState::Done, ChangeSetState::Stopped])->whereNull('open')->where('updated_at', '<', $before)->limit(100)->get()->each(static fn (ChangeSet $set) => $set->delete());
        Change::query()->where('state', ChangeState::Done)->where('done_at', '<', $before)->whereNotNull('confirmed_at')->limit(50_000)->delete();
    }

    private function queue(ChangeSet $set, ?int $first, bool $queue = true): void
    {
        $set->update(['state' => ChangeSetState::Queued, 'first' => $first, 'stop_how' => null, 'ended' => null, 'ended_at' => null]);
        $queue && ChangeJob::dispatch($set->id)->afterCommit();
    }
}
