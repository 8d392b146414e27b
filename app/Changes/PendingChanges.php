<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\ChangeSet;
use App\Models\ChangeSetState;
use App\Models\User;
use App\Reservoir\KeepFailed;
use App\Reservoir\TableReader;
use DeepSpring\Change\CellText;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use DeepSpring\Value\Unfit;
use Illuminate\Database\UniqueConstraintViolationException;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Str;

/**
 * What somebody wants to change in a table and has not sent: kept as it is typed, whether it fits or not.
 */
final readonly class PendingChanges
{
    /** Changes that one set holds at most. */
    public const MOST = 200_000;

    public function __construct(private TableReader $reader)
    {
    }

    public static function mark(): string
    {
        return (string) Str::uuid();
    }

    /**
     * The set in which this person's changes of the table come together.
     */
    public function open(ChangeTable $table, User $person): ChangeSet
    {
        $kept = $table->table;
        $open = "$person->id/$kept->environment_id/$kept->name";
        try {
            return $this->find($table, $person) ?? ChangeSet::query()->create(['endpoint_id' => $kept->endpoint_id, 'environment_id' => $kept->environment_id, 'user_id' => $person->id, 'table' => $kept->name, 'kind' => 'grid', 'state' => ChangeSetState::Open, 'open' => $open]);
        } catch (UniqueConstraintViolationException) {
            return ChangeSet::query()->where('open', $open)->firstOrFail();
        }
    }

    public function find(ChangeTable $table, User $person): ?ChangeSet
    {
        return ChangeSet::query()->where('open', "$person->id/{$table->table->environment_id}/{$table->table->name}")->first();
    }

    /**
     * Cells, as they were typed or pasted.
     *
     * @param  list<array{row: string, column: string, text: string}>  $edits  a row of the table by its mark, or "new-7" for a new one
     * @return list<Change> those that are pending then
     *
     * @throws CannotChange
     */
    public function edit(ChangeTable $table, ChangeSet $set, array $edits, ?\DateTimeZone $zone = null): array
    {
        self::mustBeOpen($set);
        $byRow = [];
        foreach ($edits as $edit) {
            isset($table->changeable[$edit['column']]) || throw CannotChange::because("The table has no column \"{$edit['column']}\".");
            $byRow[$edit['row']][$edit['column']] = $edit['text'];
        }

        return DB::transaction(function () use ($table, $set, $byRow, $zone): array {
            $changes = [];
            foreach ($byRow as $row => $cells) {
                $change = $this->of($table, $set, (string) $row, RecordAct::Update);
                foreach ($cells as $column => $text) {
                    $this->put($change, $table, (string) $column, $text, $zone);
                }
                if ($change->kind === RecordAct::Update && $change->after === [] && $change->faults === []) {
                    $change->exists && $change->delete();

                    continue;
                }
                $changes[] = $this->save($change, $set);
            }

            return $changes;
        }, 3);
    }

    /**
     * A new row, as far as it is known.
     *
     * @param  array<string, string>  $cells  column → as typed
     *
     * @throws CannotChange
     */
    public function add(ChangeTable $table, ChangeSet $set, array $cells, ?\DateTimeZone $zone = null): Change
    {
        self::mustBeOpen($set);
        $table->plan->can(RecordAct::Create) || throw CannotChange::because('Nothing creates records of this table.');
        $change = new Change(['change_set_id' => $set->id, 'kind' => RecordAct::Create, 'mark' => self::mark()]);
        foreach ($cells as $column => $text) {
            $this->put($change, $table, $column, $text, $zone);
        }

        return $this->save($change, $set);
    }

    /**
     * A record that shall be deleted, or on which something shall be called.
     *
     * @param  array<string, string>  $given  inputs of an action
     *
     * @throws CannotChange
     */
    public function call(ChangeTable $table, ChangeSet $set, string $row, RecordAct $kind, int $action = 0, array $given = []): Change
    {
        self::mustBeOpen($set);
        $table->plan->endpoint($kind, $action) !== null || throw CannotChange::because($kind === RecordAct::Delete ? 'Nothing deletes records of this table.' : 'There is no such action.');
        $change = $this->of($table, $set, $row, $kind);
        $change->fill(['kind' => $kind, 'action' => $action, 'given' => $given, 'after' => [], 'faults' => []]);

        return $this->save($change, $set);
    }

    /**
     * Takes pending changes back, all of them where none are named.
     *
     * @param  list<int>|null  $ids
     */
    public function drop(ChangeSet $set, ?array $ids = null): int
    {
        self::mustBeOpen($set);

        return $set->changes()->when($ids !== null, static fn ($query) => $query->whereIn('id', $ids ?? []))->where('state', '!=', ChangeState::Sending)->where('state', '!=', ChangeState::Done)->delete();
    }

    /**
     * Puts what is done out of sight.
     */
    public function clear(ChangeSet $set): void
    {
        // What no refresh has confirmed yet stays findable for one that is under way.
        $set->changes()->where('state', ChangeState::Done)->update(['number' => DB::raw('number'), 'change_set_id' => ChangeSet::query()->create(['endpoint_id' => $set->endpoint_id, 'environment_id' => $set->environment_id, 'user_id' => $set->user_id, 'table' => $set->table, 'kind' => $set->kind, 'state' => ChangeSetState::Done])->id]);
    }

    /**
     * The pending change of a row, or a new one.
     *
     * @throws CannotChange
     */
    private function of(ChangeTable $table, ChangeSet $set, string $row, RecordAct $kind): Change
    {
        if (str_starts_with($row, 'new-')) {
            return Change::query()->where(['id' => (int) substr($row, 4), 'change_set_id' => $set->id, 'kind' => RecordAct::Create])->whereNotIn('state', [ChangeState::Done, ChangeState::Sending])->first() ?? throw CannotChange::because('This new row is no longer pending.');
        }
        try {
            $found = $this->reader->row($table->table, $row) ?? throw CannotChange::because('This row is no longer in the table. Look at the page again.');
        } catch (KeepFailed $failed) {
            throw CannotChange::because($failed->getMessage());
        }
        $before = $table->given($found);
        $key = $table->key($before);
        $change = Change::query()->where(['change_set_id' => $set->id, 'key_hash' => Change::hash($key)])->where('state', '!=', ChangeState::Done)->lockForUpdate()->first();
        if ($change?->state === ChangeState::Sending || $change?->state === ChangeState::Unknown) {
            throw CannotChange::because("{$change->record()} was sent, and what came of it is not known yet. Settle that first.");
        }

        return $change ?? new Change(['change_set_id' => $set->id, 'kind' => $kind, 'key' => $key, 'key_hash' => Change::hash($key), 'before' => $before, 'mark' => self::mark()]);
    }

    private function put(Change $change, ChangeTable $table, string $column, string $text, ?\DateTimeZone $zone): void
    {
        if ($change->kind === RecordAct::Delete || $change->kind === RecordAct::Call) {
            $change->fill(['kind' => RecordAct::Update, 'given' => []]);
        }
        $of = $table->changeable[$column]->column;
        $read = CellText::read($text, $of, $zone);
        $after = $change->after;
        $faults = array_diff_key($change->faults, [$column => 1, '' => 1]);
        if ($read instanceof Unfit) {
            $after[$column] = $text;
            $faults[$column] = ucfirst($read->reason).'.';
        } elseif ($change->kind === RecordAct::Update && CellText::isSame($read, $change->before[$column] ?? null, $of->type->name())) {
            unset($after[$column]);
        } elseif ($change->kind === RecordAct::Create && $read === null) {
            unset($after[$column]);
        } else {
            $after[$column] = $read;
        }
        $change->after = $after;
        $change->faults = $faults;
    }

    private function save(Change $change, ChangeSet $set): Change
    {
        if (in_array($change->state, [ChangeState::Refused, ChangeState::Conflict], true)) {
            // Another try is another request.
            $change->fill(['state' => ChangeState::Pending, 'reason' => null, 'theirs' => null, 'mark' => self::mark()]);
        }
        if (! $change->exists) {
            $last = (int) $set->changes()->lockForUpdate()->max('number');
            $last < self::MOST || throw CannotChange::because('One set holds '.self::MOST.' changes at most. Send these first.');
            $change->number = $last + 1;
        }
        $change->save();

        return $change;
    }

    /**
     * @throws CannotChange
     */
    private static function mustBeOpen(ChangeSet $set): void
    {
        in_array($set->state, [ChangeSetState::Open, ChangeSetState::Stopped], true) || throw CannotChange::because($set->state === ChangeSetState::Waiting ? 'These changes wait for approval. Take them back to change them.' : 'These changes are being sent. Wait, or stop that first.');
    }
}
