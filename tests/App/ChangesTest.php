<?php

declare(strict_types=1);

namespace Tests\App;

use App\Changes\CannotChange;
use App\Changes\ChangeSets;
use App\Changes\Courier;
use App\Changes\PendingChanges;
use App\Models\Change;
use App\Models\ChangeRight;
use App\Models\ChangeSet;
use App\Models\ChangeSetState;
use App\Models\JournalEntry;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\User;
use App\Sources\SourceStore;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Facades\DB;

/**
 * Records changed at the Loans desk, from a cell to the answer and back into the table.
 */
final class ChangesTest extends AppTestCase
{
    use ChangesLoans;

    protected function setUp(): void
    {
        parent::setUp();
        $this->keepLoans();
    }

    protected function tearDown(): void
    {
        $this->faults('loans-desk', []);
        parent::tearDown();
    }

    /**
     * @param  array<int, array<string, string>>  $cells  loan → column → text
     */
    private function pending(array $cells, ?User $by = null): ChangeSet
    {
        $changes = app(PendingChanges::class);
        $set = $changes->open($this->table(), $by ?? $this->analyst);
        $edits = [];
        foreach ($cells as $loan => $columns) {
            foreach ($columns as $column => $text) {
                $edits[] = ['row' => $this->mark($loan), 'column' => $column, 'text' => $text];
            }
        }
        $changes->edit($this->table(), $set, $edits);

        return $set->refresh();
    }

    private function send(ChangeSet $set): ChangeSet
    {
        app(ChangeSets::class)->send($set, $this->table(), $set->user);
        app(Courier::class)->run($set->refresh());

        return $set->refresh();
    }

    /**
     * @return array<string, mixed>
     */
    private function kept(int $loan): array
    {
        return (array) $this->rows("select due, note, policy, cover, status from loans where loan_id = $loan")[0];
    }

    /**
     * @return list<JournalEntry>
     */
    private function journal(ChangeSet $set): array
    {
        return array_values(JournalEntry::query()->where('id', '>', $this->before)->whereIn('change_id', $set->changes()->pluck('id'))->orderBy('id')->get()->all());
    }

    public function test_a_cell_is_changed_where_it_lives_and_the_table_follows(): void
    {
        $before = $this->kept(8812);
        $set = $this->pending([8812 => ['due' => '2031-04-30', 'note' => 'Two "people", 日本']]);
        self::assertSame($before, $this->kept(8812), 'nothing is sent yet');
        $this->send($set);
        $change = $set->changes()->firstOrFail();
        self::assertSame([ChangeState::Done, null, 200], [$change->state, $change->reason, $change->status]);
        self::assertSame(['2031-04-30', 'Two "people", 日本'], [$this->kept(8812)['due'], $this->kept(8812)['note']]);
        self::assertSame([ChangeSetState::Open, '1 done.'], [$set->state, $set->ended]);
        [$entry] = $this->journal($set);
        self::assertSame(['done', 'update', '8812', 'grid', $this->analyst->name, 'trial'], [$entry->outcome, $entry->kind, $entry->record, $entry->via, $entry->person_name, $entry->environment]);
        self::assertSame($before['due'], $entry->before_['due']);
        self::assertEquals(['due' => '2031-04-30', 'note' => 'Two "people", 日本'], $entry->after_);
        self::assertStringStartsWith("PATCH /loans-desk/v2/loans/8812\nhost: ", $entry->request);
        self::assertStringEndsWith("\n".'{"due":"2031-04-30","note":"Two \"people\", 日本"}', $entry->request);
        self::assertMatchesRegularExpression('/^if-match: "[0-9a-f]{8}"$/m', $entry->request);
        self::assertStringContainsString('authorization: Bearer ••••••', $entry->request);
        self::assertStringStartsWith('200 OK', $entry->answer);
        self::assertSame(1, $this->effects()['count']);
    }

    public function test_what_has_to_be_there_together_is_sent_together_and_what_is_emptied_is_null(): void
    {
        $with = (int) $this->rows('select loan_id from loans where policy is not null and note is not null and status = "open" limit 1')[0]->loan_id;
        $policy = (string) $this->kept($with)['policy'];
        $set = $this->send($this->pending([$with => ['cover' => '12 500.5', 'note' => '']]));
        self::assertSame([ChangeState::Done], $set->changes()->pluck('state')->all(), (string) $set->changes()->value('reason'));
        self::assertStringEndsWith('{"note":null,"insurance":{"policy":"'.$policy.'","value":12500.5}}', $this->journal($set)[0]->request);
        self::assertSame(['12500.50', null], [$this->kept($with)['cover'], $this->kept($with)['note']]);

        $without = (int) $this->rows('select loan_id from loans where policy is null and status = "open" limit 1')[0]->loan_id;
        $set = $this->pending([$without => ['cover' => '100']]);
        $change = $set->changes()->where('state', ChangeState::Pending)->firstOrFail();
        self::assertSame(['policy'], array_keys($this->table()->plan->asked($change->wanted())->faults));
        $this->send($set);
        self::assertSame(ChangeState::Pending, $change->refresh()->state, 'it is not sent as long as something is missing');
        $this->pending([$with => ['cover' => '', 'policy' => '']]);
        $this->send($set->refresh());
        self::assertStringEndsWith('{"insurance":null}', collect($this->journal($set))->last()->request ?? '');
        self::assertSame([null, null], [$this->kept($with)['cover'], $this->kept($with)['policy']]);
    }

    public function test_what_does_not_fit_stays_as_it_was_typed_and_is_not_sent(): void
    {
        $set = $this->pending([8812 => ['due' => 'tomorrow', 'cover' => '1.234', 'note' => 'fits']]);
        $change = $set->changes()->firstOrFail();
        self::assertEquals(['due' => 'tomorrow', 'cover' => '1.234', 'note' => 'fits'], $change->after);
        self::assertSame(['due', 'cover'], array_keys($change->faults));
        $this->send($set);
        self::assertSame([ChangeState::Pending, 0], [$change->refresh()->state, $this->effects()['count']]);
        $this->pending([8812 => ['due' => '2031-05-01', 'cover' => (string) $this->kept(8812)['cover']]]);
        self::assertEquals(['due' => '2031-05-01', 'note' => 'fits'], $change->refresh()->after, 'a cell that is as it was is no change');
        self::assertSame([], $change->faults);
    }

    public function test_a_refusal_stands_at_the_field_that_the_service_names(): void
    {
        $closed = (int) $this->rows('select loan_id from loans where status = "closed" limit 1')[0]->loan_id;
        $set = $this->send($this->pending([$closed => ['note' => 'x']]));
        $change = $set->changes()->firstOrFail();
        self::assertSame([ChangeState::Refused, 409, 'The loan is closed and cannot be changed. (409)'], [$change->state, $change->status, $change->reason]);
        self::assertSame('refused', $this->journal($set)[0]->outcome);

        $set = app(PendingChanges::class)->open($this->table(), $this->analyst);
        $new = app(PendingChanges::class)->add($this->table(), $set, ['borrower_code' => 'no-such-house', 'due' => '2031-06-15', 'policy' => '004711', 'cover' => '900']);
        $this->send($set);
        $new->refresh();
        self::assertSame([ChangeState::Refused, ['borrower_code' => 'is not the short name of a house']], [$new->state, $new->faults]);
        app(PendingChanges::class)->edit($this->table(), $set->refresh(), [['row' => "new-$new->id", 'column' => 'borrower_code', 'text' => 'gull-tower']]);
        $this->send($set->refresh());
        $new->refresh();
        self::assertSame([ChangeState::Done, ['loan_id' => '8813']], [$new->state, $new->key], (string) $new->reason);
        self::assertSame(['2031-06-15', '900.00'], [$this->kept(8813)['due'], $this->kept(8813)['cover']]);
        self::assertSame(1201, (int) KeptTable::query()->where('name', 'loans')->value('rows'));
        self::assertSame(1, $this->effects()['by'][8813]);
    }

    public function test_what_somebody_else_changed_meanwhile_is_not_overwritten(): void
    {
        $open = (int) $this->rows('select loan_id from loans where status = "open" limit 1')[0]->loan_id;
        $other = $this->person(Role::Analyst);
        $mine = $this->pending([$open => ['due' => '2031-04-30']]);
        $theirs = $this->pending([$open => ['due' => '2031-09-09', 'note' => 'theirs']], $other);
        $this->send($theirs);
        $this->send($mine);
        $change = $mine->changes()->firstOrFail();
        self::assertSame([ChangeState::Conflict, ['due' => '2031-09-09'], 'Changed meanwhile: due.'], [$change->state, $change->theirs, $change->reason]);
        self::assertSame('2031-09-09', $this->kept($open)['due']);
        app(ChangeSets::class)->settle($change, $this->table(), 'mine');
        $this->send($mine->refresh());
        self::assertSame(['2031-04-30', 'theirs'], [$this->kept($open)['due'], $this->kept($open)['note']], 'what they changed besides stays');
        // The same change again finds that it is so already, and sends nothing.
        $effects = $this->effects()['count'];
        $same = $this->pending([$open => ['due' => '2031-12-24']], $other);
        DB::table('changes')->where('change_set_id', $same->id)->where('state', 'pending')->update(['before' => json_encode(['due' => '2031-01-01']), 'after' => json_encode(['due' => '2031-04-30'])]);
        $this->send($same);
        self::assertSame([$effects, 'It was so already: somebody else had changed it to the same.'], [$this->effects()['count'], $same->changes()->latest('id')->firstOrFail()->reason]);
    }

    public function test_an_action_is_called_on_rows(): void
    {
        $loans = array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows('select loan_id from loans where status = "out" limit 5'));
        $changes = app(PendingChanges::class);
        $set = $changes->open($this->table(), $this->analyst);
        foreach ($loans as $loan) {
            $changes->call($this->table(), $set, $this->mark($loan), RecordAct::Call);
        }
        $this->send($set->refresh());
        self::assertSame([5, ['done' => 5]], [$this->effects()['count'], $set->counts()]);
        self::assertSame(['closed'], array_values(array_unique(array_map(fn (int $loan): string => (string) $this->kept($loan)['status'], $loans))), 'the answer is put into the row');
        self::assertMatchesRegularExpression('/^idempotency-key: [0-9a-f-]{36}$/m', $this->journal($set)[0]->request);
        self::assertSame('action', $this->journal($set)[0]->via);
    }

    public function test_the_answer_of_an_action_fills_columns(): void
    {
        $document = $this->source->current()->document;
        foreach ($document['endpoints'] as $number => $endpoint) {
            if ($endpoint['slug'] === 'loans') {
                $document['endpoints'][$number]['change']['after'] = 'nothing';
                $document['endpoints'][$number]['change']['actions'][0]['puts'] = ['note' => '$.receipt.number', 'cover' => '$.receipt.objects', 'due' => '$.receipt.number', 'policy' => '$.receipt.no'];
            }
        }
        $store = app(SourceStore::class);
        $store->draft(SourceFile::of($document), $this->analyst);
        $store->publish($this->source, $this->analyst);
        $loan = (int) $this->rows('select loan_id from loans where status = "out" limit 1')[0]->loan_id;
        $was = $this->kept($loan);
        $changes = app(PendingChanges::class);
        $set = $changes->open($this->table(), $this->analyst);
        $changes->call($this->table(), $set, $this->mark($loan), RecordAct::Call);
        $this->send($set->refresh());
        $change = $set->changes()->sole();
        self::assertSame(ChangeState::Done, $change->state);
        self::assertEquals(['note' => "RC-$loan", 'due' => $was['due'], 'policy' => $was['policy'], 'status' => $was['status']], array_intersect_key($this->kept($loan), ['note' => 1, 'due' => 1, 'policy' => 1, 'status' => 1]));
        self::assertMatchesRegularExpression('/^\d+\.00$/', (string) $this->kept($loan)['cover']);
        self::assertStringContainsString('What the answer has for due does not fit: ', (string) $change->reason);
        self::assertStringContainsString('The answer has nothing at $.receipt.no for policy.', (string) $change->reason);
    }

    public function test_an_answer_that_is_lost_is_looked_up_before_anything_else(): void
    {
        $loans = array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows('select loan_id from loans where status = "open" limit 40'));
        $this->faults('loans-desk', ['writes' => ['lost' => 0.25, 'cut' => 0.25, '503' => 0.15, '429' => 0.15]]);
        $set = $this->send($this->pending(array_fill_keys($loans, ['note' => 'in bad weather'])));
        $counts = $set->counts();
        self::assertSame(40, array_sum($counts));
        $done = $set->changes()->where('state', ChangeState::Done)->get();
        self::assertGreaterThan(25, $done->count());
        self::assertSame(1, max($this->effects()['by']), 'nothing was done twice');
        self::assertSame($this->effects()['count'], JournalEntry::query()->where('id', '>', $this->before)->whereIn('change_id', $set->changes()->pluck('id'))->where('outcome', 'done')->count(), 'what was done is what the journal says was done');
        self::assertSame(0, $set->changes()->whereIn('state', [ChangeState::Unknown, ChangeState::Sending])->count());
    }

    public function test_rights_are_asked_again_right_before_a_request_leaves(): void
    {
        $set = $this->pending([8812 => ['note' => 'x', 'due' => '2031-04-30']]);
        ChangeRight::query()->delete();
        $this->may(['role' => Role::Analyst, 'columns' => ['note']]);
        $this->send($set);
        $change = $set->changes()->firstOrFail();
        self::assertSame([ChangeState::Pending, 'You may not change this column.', 0], [$change->state, $change->reason, $this->effects()['count']]);
        $this->pending([8812 => ['due' => (string) $this->kept(8812)['due']]]);
        $this->send($set->refresh());
        self::assertSame(1, $this->effects()['count']);
    }

    public function test_a_second_person_approves_where_the_source_wants_it(): void
    {
        $this->source('loans-desk', ['      offered: {borrower_code' => "      approval: {rows: 1}\n      offered: {borrower_code"]);
        $set = $this->pending([8812 => ['note' => 'a'], 8811 => ['note' => 'b']]);
        $sets = app(ChangeSets::class);
        $sets->send($set, $this->table(), $this->analyst);
        self::assertSame(ChangeSetState::Waiting, $set->refresh()->state);
        foreach ([[$this->analyst, 'A second person approves; you made these changes.'], [$this->person(Role::Builder), 'Who approves may do the same changes.']] as [$person, $sentence]) {
            try {
                $sets->approve($set, $person);
                self::fail();
            } catch (CannotChange $cannot) {
                self::assertSame($sentence, $cannot->getMessage());
            }
        }
        $sets->approve($set, $this->person(Role::Analyst));
        app(Courier::class)->run($set->refresh());
        self::assertSame(2, $set->refresh()->counts()['done'] ?? 0);
        self::assertNull($set->approved_at, 'an approval is for what it was given for');
    }

    public function test_a_refresh_in_the_middle_neither_loses_nor_doubles_anything(): void
    {
        $run = app(\App\Runs\Runs::class)->ask($this->source->endpoints()->where('slug', 'loans')->firstOrFail(), $this->trial(), null);
        $sent = false;
        app(\App\Runs\Refresh::class)->run($run, function () use (&$sent): void {
            if (! $sent) {
                $sent = true;
                // The first page, with this loan on it, was read before.
                $this->send($this->pending([8812 => ['note' => 'in the middle']]));
            }
        });
        self::assertSame('in the middle', $this->kept(8812)['note']);
        self::assertNull(Change::query()->firstOrFail()->confirmed_at);
        $this->refresh($this->source, 'loans');
        self::assertSame('in the middle', $this->kept(8812)['note']);
        self::assertNotNull(Change::query()->firstOrFail()->confirmed_at);
        self::assertSame(1200, (int) $this->rows('select count(*) n from loans')[0]->n);
    }
}
