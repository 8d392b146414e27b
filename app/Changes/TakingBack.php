<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\JournalEntry;
use App\Models\User;
use App\Reservoir\TableReader;
use DeepSpring\Change\OppositeChange;
use DeepSpring\Change\RecordAct;
use DeepSpring\Change\RecordChange;

/**
 * The opposite of something that was changed, as a pending change against what is there now.
 */
final readonly class TakingBack
{
    public function __construct(private PendingChanges $pending, private JournalReader $journal, private TableReader $reader)
    {
    }

    /**
     * @return list<string> what cannot be restored, in a sentence each
     *
     * @throws CannotChange
     */
    public function pend(JournalEntry $entry, User $person): array
    {
        if ($entry->outcome !== 'done') {
            throw CannotChange::because('It was not done, so there is nothing to take back.');
        }
        $kept = $this->journal->table($entry);
        $table = $kept === null ? null : ChangeTable::of($kept);
        if ($table === null) {
            throw CannotChange::because('The table is no longer kept, or its source no longer says how it is changed.');
        }
        $done = new RecordChange(RecordAct::from($entry->kind), $entry->before_, $entry->after_);
        $key = $this->keyOf($entry, $table);
        $names = array_combine(array_map(static fn (string $name): string => $table->names[$name] ?? $name, array_keys($key)), $key);
        $mark = $this->reader->marksOf($table->table, $names, 1)[0] ?? null;
        $found = $mark === null ? null : $this->reader->row($table->table, $mark);
        [$opposite, $lost] = OppositeChange::of($table->plan, $done, $found === null ? [] : $table->given($found));
        if ($opposite === null) {
            throw CannotChange::because(implode(' ', $lost));
        }
        $set = $this->pending->open($table, $person);
        if ($opposite->kind === RecordAct::Create) {
            $change = $this->pending->add($table, $set, []);
            $change->update(['after' => $opposite->after, 'undoes' => $entry->id]);
        } else {
            $mark ?? throw CannotChange::because('The record is no longer in the table.');
            $change = $opposite->kind === RecordAct::Delete ? $this->pending->call($table, $set, $mark, RecordAct::Delete) : $this->update($table, $set, $mark, $opposite);
            $change->update(['undoes' => $entry->id]);
        }

        return $lost;
    }

    /**
     * @return array<string, string>
     */
    private function keyOf(JournalEntry $entry, ChangeTable $table): array
    {
        $change = $entry->change_id === null ? null : Change::query()->find($entry->change_id);
        $parts = explode(' · ', $entry->record);

        return $change->key ?? (count($parts) === count($table->plan->table->key) ? array_combine($table->plan->table->key, $parts) : throw CannotChange::because('Which record it was is no longer known.'));
    }

    private function update(ChangeTable $table, \App\Models\ChangeSet $set, string $mark, RecordChange $opposite): Change
    {
        $edits = [];
        foreach ($opposite->after as $column => $value) {
            $edits[] = ['row' => $mark, 'column' => (string) $column, 'text' => $value === '' ? '""' : (string) $value];
        }

        return $this->pending->edit($table, $set, $edits)[0] ?? throw CannotChange::because('The record is as it was before already.');
    }
}
