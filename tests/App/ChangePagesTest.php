<?php

declare(strict_types=1);

namespace Tests\App;

use App\Changes\Bulk;
use App\Changes\BulkWish;
use App\Changes\CannotChange;
use App\Changes\ChangeSets;
use App\Changes\Courier;
use App\Models\ChangeRight;
use App\Models\ChangeSet;
use App\Models\ChangeSetState;
use App\Models\JournalEntry;
use App\Models\PeopleGroup;
use App\Models\Role;
use App\Models\Source;
use App\Models\User;
use App\People\Groups;
use DeepSpring\Change\ChangeState;
use Illuminate\Support\Facades\Artisan;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * The grid, changes in bulk, the journal and the rights, as pages and commands give them.
 */
final class ChangePagesTest extends AppTestCase
{
    use ChangesLoans;

    protected function setUp(): void
    {
        parent::setUp();
        $this->keepLoans();
    }

    /**
     * @param  list<array{string, string, string}>  $cells
     */
    private function type(array $cells, ?User $by = null): \Illuminate\Testing\TestResponse
    {
        return $this->actingAs($by ?? $this->analyst)->postJson('/tables/loans/change/cells', ['edits' => json_encode(array_map(static fn (array $one): array => ['row' => $one[0], 'column' => $one[1], 'text' => $one[2]], $cells))]);
    }

    private function work(): void
    {
        foreach (ChangeSet::query()->where('state', ChangeSetState::Queued)->get() as $set) {
            app(Courier::class)->run($set->load('endpoint.source', 'environment', 'user'));
        }
    }

    public function test_the_page_shows_what_is_pending_and_what_would_be_sent(): void
    {
        $this->actingAs($this->analyst)->get('/tables/loans')->assertSee('Change rows');
        $this->get('/tables/loans/change')->assertOk()->assertSee('Look before sending');
        $answer = $this->type([[$this->mark(8812), 'due', '2031-04-30'], [$this->mark(8811), 'due', 'tomorrow']])->assertOk();
        self::assertSame(2, $answer->json('pending'));
        self::assertStringContainsString('class="m changed"', (string) $answer->json('rows.'.$this->mark(8812)));
        self::assertStringContainsString('aria-invalid="true"', (string) $answer->json('rows.'.$this->mark(8811)));
        $look = $this->get('/tables/loans/change/look')->assertOk()->assertSee('PATCH /loans-desk/v2/loans/8812')->assertSee('{"due":"2031-04-30"}')->assertSee('Not sent until that is put right')->assertDontSee('ld-secret');
        self::assertStringContainsString('2 pending changes', strip_tags((string) $look->getContent()));
        // Another tab, another day: it is still there.
        $this->get('/tables/loans/change?sort=loan_id&dir=desc')->assertSee('tomorrow')->assertSee('2 pending');
        $this->post('/tables/loans/change/send')->assertRedirect();
        $this->work();
        $this->get('/tables/loans/change/look')->assertSee('1 done.')->assertSee('1 change does not fit, and was not sent.');
        $this->get('/tables/loans/change?sort=loan_id&dir=desc')->assertSee('not yet read again')->assertSee('1 pending');
    }

    public function test_five_thousand_pasted_rows_of_which_some_are_wrong_lose_nothing(): void
    {
        $cells = [];
        for ($row = 0; $row < 5000; $row++) {
            $cells[] = ["fresh-$row", 'borrower_code', 'gull-tower'];
            $cells[] = ["fresh-$row", 'due', $row % 136 === 0 ? "day $row" : '2031-06-15'];
            $cells[] = ["fresh-$row", 'note', "row $row"];
        }
        $answer = $this->type($cells)->assertOk();
        self::assertSame(5000, $answer->json('pending'));
        $set = ChangeSet::query()->firstOrFail();
        self::assertSame(5000, $set->changes()->count());
        self::assertSame(37, $set->changes()->where('faults', 'like', '%due%')->count());
        self::assertSame('day 136', $set->changes()->where('after', 'like', '%"row 136"%')->firstOrFail()->after['due'], 'what was pasted stays to be mended');
    }

    public function test_who_may_what_is_held_everywhere(): void
    {
        ChangeRight::query()->delete();
        $builder = $this->person(Role::Builder);
        // Building a source is no right to change its records.
        foreach ([$this->analyst, $builder] as $person) {
            $this->actingAs($person)->get('/tables/loans')->assertDontSee('Change rows');
            $this->get('/tables/loans/change')->assertForbidden();
            $this->get('/tables/loans/change/bulk')->assertForbidden();
            $this->post('/tables/loans/change/send')->assertForbidden();
            $this->type([[$this->mark(8812), 'note', 'x']], $person)->assertForbidden();
        }
        $this->may(['user_id' => $this->analyst->id, 'kinds' => ['update'], 'columns' => ['note']]);
        $this->type([[$this->mark(8812), 'note', 'x'], [$this->mark(8811), 'due', '2031-01-01']])->assertOk();
        $this->get('/tables/loans/change/look')->assertSee('You may not change this column.');
        $this->post('/tables/loans/change/rows', ['do' => 'call', 'action' => '0', 'rows' => $this->mark(8810)]);
        $this->get('/tables/loans/change/look')->assertSee('You may not call this.');
        $this->post('/tables/loans/change/send')->assertRedirect();
        $this->work();
        self::assertSame(['done' => 1, 'pending' => 2], ChangeSet::query()->firstOrFail()->counts());
        // Others see nothing of it until it is shared, and can never send it.
        $other = $this->person(Role::Analyst);
        $this->may(['user_id' => $other->id]);
        $id = ChangeSet::query()->firstOrFail()->id;
        $this->actingAs($other)->get("/tables/loans/change?set=$id")->assertNotFound();
        $this->actingAs($this->analyst)->post('/tables/loans/change/share');
        $this->actingAs($other)->get("/tables/loans/change?set=$id")->assertOk()->assertDontSee('id="send"', false);
        $this->post('/tables/loans/change/rows', ['do' => 'drop', 'set' => (string) $id])->assertNotFound();
        $this->post("/tables/loans/change/bulk/$id", ['do' => 'all'])->assertNotFound();
        self::assertSame(3, ChangeSet::query()->findOrFail($id)->changes()->count());
        // Nobody who is switched off changes anything.
        $other->forceFill(['off_at' => now()])->save();
        self::assertTrue(\App\Changes\ChangeRights::of($other, $this->table()->table->endpoint, $this->trial())->isNone());
    }

    /**
     * @return iterable<string, array{list<string>|null, list<string>|null, list<string>|null, string, string, string|null, bool}>
     */
    public static function matrix(): iterable
    {
        foreach (['create', 'update', 'delete', 'call'] as $act) {
            yield "all, $act" => [null, null, null, $act, 'note', 'close-loan', true];
            yield "only $act, $act" => [[$act], null, null, $act, 'note', 'close-loan', true];
            foreach (array_diff(['create', 'update', 'delete', 'call'], [$act]) as $other) {
                yield "only $other, $act" => [[$other], null, null, $act, 'note', 'close-loan', false];
            }
            yield "the column, $act" => [null, ['note'], null, $act, 'note', 'close-loan', true];
            yield "another column, $act" => [null, ['due'], null, $act, 'note', 'close-loan', ! in_array($act, ['create', 'update'], true)];
        }
        yield 'the action' => [['call'], null, ['close-loan'], 'call', 'note', 'close-loan', true];
        yield 'another action' => [['call'], null, ['withdraw-loan'], 'call', 'note', 'close-loan', false];
    }

    /**
     * @param  list<string>|null  $kinds
     * @param  list<string>|null  $columns
     * @param  list<string>|null  $actions
     */
    #[DataProvider('matrix')]
    public function test_the_matrix_of_rights(?array $kinds, ?array $columns, ?array $actions, string $act, string $column, ?string $action, bool $may): void
    {
        ChangeRight::query()->delete();
        $person = $this->person(Role::Builder);
        $this->may(['user_id' => $person->id, 'kinds' => $kinds, 'columns' => $columns, 'actions' => $actions]);
        $this->may(['role' => Role::Administrator]);
        $endpoint = $this->table()->table->endpoint;
        $of = \DeepSpring\Change\RecordAct::from($act);
        self::assertSame($may, \App\Changes\ChangeRights::of($person, $endpoint, $this->trial())->may($of, $column, $act === 'call' ? $action : null));
        self::assertFalse(\App\Changes\ChangeRights::of($person, $endpoint, \App\Models\Environment::named('production') ?? self::fail())->may($of), 'a right is for one environment');
        self::assertFalse(\App\Changes\ChangeRights::of($this->analyst, $endpoint, $this->trial())->may($of), 'and for one person');
        // The same for everybody in a group, from when they are in it to when they are not.
        ChangeRight::query()->delete();
        $groups = app(Groups::class);
        $group = $groups->make('Registrars');
        $this->may(['people_group_id' => $group->id, 'kinds' => $kinds, 'columns' => $columns, 'actions' => $actions]);
        $mayNow = fn (User $one): bool => \App\Changes\ChangeRights::of($one, $endpoint, $this->trial())->may($of, $column, $act === 'call' ? $action : null);
        self::assertFalse($mayNow($person));
        $groups->add($group, $person);
        self::assertSame([$may, false], [$mayNow($person), $mayNow($this->analyst)]);
        $groups->remove($group, $person);
        self::assertFalse($mayNow($person));
        $groups->add($group, $person);
        $groups->delete($group);
        self::assertSame([false, 0], [$mayNow($person), ChangeRight::query()->count()]);
    }

    public function test_a_group_is_made_filled_given_a_right_and_deleted_by_an_administrator(): void
    {
        $builder = $this->person(Role::Builder);
        foreach (['/people/groups' => 'post', '/people/groups/1' => 'get'] as $address => $method) {
            $this->actingAs($builder)->{$method}($address)->assertStatus($method === 'get' ? 404 : 403);
        }
        $this->actingAs($this->person(Role::Administrator))->post('/people/groups', ['group' => '  '])->assertSessionHasErrors(['group' => 'Give the group a name.']);
        $this->post('/people/groups', ['group' => 'Registrars  of loans'])->assertRedirect();
        $group = PeopleGroup::query()->sole();
        self::assertSame('Registrars of loans', $group->name);
        $this->post('/people/groups', ['group' => 'registrars of LOANS'])->assertSessionHasErrors(['group' => 'There is a group "Registrars of loans" already.']);
        $this->post("/people/groups/$group->id/members", ['email' => 'nobody@saltmarsh.example'])->assertSessionHasErrors('email');
        $this->post("/people/groups/$group->id/members", ['email' => strtoupper($this->analyst->email)])->assertRedirect();
        $this->get("/people/groups/$group->id")->assertOk()->assertSee($this->analyst->email)->assertSee('Nothing. Whoever builds a source');
        $this->get('/people')->assertSee('Registrars of loans')->assertSee('1 person');
        // A builder gives it the right, and takes it back.
        ChangeRight::query()->delete();
        $this->actingAs($builder)->get("/people/groups/$group->id")->assertForbidden();
        $endpoint = $this->table()->table->endpoint;
        $settings = "/sources/{$endpoint->source->slug}/endpoints/$endpoint->slug/change";
        $this->get($settings)->assertOk()->assertSee('the group Registrars of loans');
        $this->post("$settings/rights", ['who' => "group $group->id", 'kinds' => ['update']])->assertSessionHas('notice', fn (string $said): bool => str_contains($said, 'the group Registrars of loans may change'));
        $this->actingAs($this->analyst)->get('/tables/loans/change')->assertOk();
        $this->post('/tables/loans/change/cells', ['edits' => json_encode([['row' => $this->mark(8812), 'column' => 'note', 'text' => 'as a registrar']])])->assertOk();
        // Pending changes of somebody who left the group stay, and are not sent.
        self::assertSame(0, Artisan::call('spring:person', ['do' => 'leave', 'email' => $this->analyst->email, '--group' => 'Registrars of loans']));
        $this->get('/tables/loans/change')->assertForbidden();
        self::assertSame(0, Artisan::call('spring:person', ['do' => 'join', 'email' => $this->analyst->email, '--group' => 'Registrars of loans']));
        $this->get('/tables/loans/change')->assertOk();
        self::assertSame(1, ChangeSet::query()->where(['user_id' => $this->analyst->id, 'table' => 'loans'])->whereNotNull('open')->sole()->changes()->count());
        Artisan::call('spring:person', ['do' => 'list']);
        self::assertStringContainsString('(Registrars of loans)', Artisan::output());
        self::assertSame(2, Artisan::call('spring:person', ['do' => 'join', 'email' => $this->analyst->email]));
        $this->actingAs($this->person(Role::Administrator))->get("/people/groups/$group->id")->assertSee($endpoint->name)->assertSee('update');
        $this->delete("/people/groups/$group->id/members/{$this->analyst->id}")->assertRedirect();
        $this->post("/people/groups/$group->id", ['group' => 'Couriers'])->assertRedirect();
        $this->delete("/people/groups/$group->id")->assertRedirect();
        self::assertSame([0, 0], [PeopleGroup::query()->count(), ChangeRight::query()->count()]);
        self::assertSame(['group made', 'added to a group', 'taken out of a group', 'added to a group', 'taken out of a group', 'group renamed', 'group deleted'], \Illuminate\Support\Facades\DB::table('deep_spring_test_log.entries')->where('action', 'like', '%group%')->orderBy('id')->pluck('action')->take(-7)->values()->all());
    }

    public function test_the_journal_tells_what_happened_and_takes_it_back(): void
    {
        $was = $this->rows('select note from loans where loan_id = 8812')[0]->note;
        $this->type([[$this->mark(8812), 'note', 'from the grid']]);
        $this->post('/tables/loans/change/send');
        $this->work();
        $entry = JournalEntry::query()->where('id', '>', $this->before)->firstOrFail();
        $this->get('/journal')->assertOk()->assertSee('from the grid')->assertSee($this->analyst->name);
        $this->get('/journal?record=8812&table=loans')->assertSee('from the grid');
        $this->get('/journal?record=8811')->assertDontSee('from the grid');
        $this->get("/journal/$entry->id")->assertOk()->assertSee('PATCH /loans-desk/v2/loans/8812')->assertSee('Take it back');
        $csv = $this->get('/journal/export')->assertOk()->streamedContent();
        self::assertStringContainsString('"{""note"":""from the grid""}"', $csv);
        self::assertStringNotContainsString('ld-secret', $csv);
        $this->post("/journal/$entry->id/back")->assertRedirect();
        $this->post('/tables/loans/change/send');
        $this->work();
        self::assertSame($was, $this->rows('select note from loans where loan_id = 8812')[0]->note);
        $back = JournalEntry::query()->latest('id')->firstOrFail();
        self::assertSame([$entry->id, 'done'], [$back->undoes, $back->outcome]);
        $this->get("/journal/$entry->id")->assertSee('Taken back by')->assertDontSee('Take it back …');
        // Whoever may not change the table sees nothing of it.
        ChangeRight::query()->delete();
        $this->actingAs($this->person(Role::Analyst))->get('/journal')->assertDontSee('from the grid');
        $this->get("/journal/$entry->id")->assertNotFound();
    }

    public function test_what_other_rows_say_against_a_cell_is_said_and_keeps_nothing_back(): void
    {
        $document = $this->source->current()->document;
        foreach ($document['endpoints'] as $number => $endpoint) {
            if ($endpoint['slug'] === 'loans') {
                $document['endpoints'][$number]['keep']['checks'] = [['unique' => ['policy', 'due'], 'on' => 'stop'], ['refers' => 'note', 'to' => 'loans.ref', 'on' => 'drop'], ['unique' => ['cover'], 'on' => 'note']];
            }
        }
        $store = app(\App\Sources\SourceStore::class);
        $store->draft(\DeepSpring\SourceFile\SourceFile::of($document), $this->analyst);
        $store->publish($this->source, $this->analyst);
        [$one, $other] = $this->rows('select loan_id, policy, due, ref, cover from loans where policy is not null and due is not null and status = "open" limit 2');
        $look = function (array $edits): \Illuminate\Testing\TestResponse {
            $this->type($edits)->assertOk();

            return $this->get('/tables/loans/change/look')->assertOk();
        };
        $mark = $this->mark((int) $one->loan_id);
        $answer = $look([[$mark, 'policy', (string) $other->policy], [$mark, 'due', (string) $other->due], [$mark, 'note', 'nowhere'], [$mark, 'cover', (string) $other->cover]]);
        $answer->assertSee("Another row has the same: $other->loan_id. A check of the table says that none shares it, as of")->assertSee('It is not in loans.ref, where a check of the table says that it stands, as of')->assertDontSee('Not sent until');
        $look([[$mark, 'note', (string) $other->ref], [$mark, 'due', '2031-12-24']])->assertDontSee('Another row has the same')->assertDontSee('It is not in loans.ref');
        // Its own values are no other row's.
        $look([[$mark, 'policy', (string) $one->policy], [$mark, 'due', (string) $one->due]])->assertDontSee('Another row has the same');
        $look([[$mark, 'note', 'nowhere']])->assertSee('It is not in loans.ref');
        $this->post('/tables/loans/change/send');
        $this->work();
        self::assertSame('nowhere', $this->rows("select note from loans where loan_id = $one->loan_id")[0]->note);
    }

    public function test_the_journal_can_only_be_added_to(): void
    {
        JournalEntry::query()->insert(['person_name' => 'test', 'via' => 'grid', 'environment' => 'trial', 'source' => 's', 'endpoint' => 'e', 'table' => 't', 'kind' => 'update', 'record' => '1', 'before_' => '{}', 'after_' => '{}', 'request' => '', 'answer' => '', 'outcome' => 'done', 'reason' => '']);
        foreach (['update deep_spring_test_log.journal set reason = 1', 'delete from deep_spring_test_log.journal', 'truncate table deep_spring_test_log.journal', 'drop table deep_spring_test_log.journal', 'alter table deep_spring_test_log.journal add x int'] as $sql) {
            try {
                \Illuminate\Support\Facades\DB::statement($sql);
                self::fail($sql);
            } catch (\Illuminate\Database\QueryException $refused) {
                self::assertContains((int) ($refused->errorInfo[1] ?? 0), [1142, 1044], $sql);
            }
        }
    }

    /**
     * @return array<string, int>
     */
    private function dry(BulkWish $wish): array
    {
        return array_filter(app(Bulk::class)->dryRun($this->table(), $wish, $this->analyst)['counts']);
    }

    public function test_a_dry_run_counts_what_the_set_then_holds(): void
    {
        $open = (int) $this->rows("select count(*) n from loans where status = 'open'")[0]->n;
        $with = (int) $this->rows("select count(*) n from loans where status = 'open' and note = 'Light below 50 lux'")[0]->n;
        $wish = new BulkWish('rows', 'status == "open"', sets: ['note' => 'Light below 50 lux']);
        self::assertEquals(['update' => $open - $with, 'same' => $with], $this->dry($wish));
        $set = app(Bulk::class)->keep($this->table(), $wish, $this->analyst);
        self::assertSame($open - $with, $set->changes()->count());
        self::assertEquals(['update' => 1200], $this->dry(new BulkWish('rows', sets: ['note' => '=concat("loan ", text(loan_id))'])), 'an expression over each row');
        $priced = (int) $this->rows('select count(*) n from loans where cover is not null')[0]->n;
        self::assertEquals(['update' => $priced, 'same' => 1200 - $priced], $this->dry(new BulkWish('rows', sets: ['cover' => '=cover * 2'])));
        self::assertSame(['call' => 7], $this->dry(new BulkWish('query', sql: 'select loan_id from loans order by loan_id limit 7', do: 'call')));
        foreach ([[new BulkWish('rows', 'colour == 1', sets: ['note' => 'x']), 'colour'], [new BulkWish('query', sql: 'select note from loans', sets: ['note' => 'x']), 'loan_id'], [new BulkWish('rows', do: 'delete'), 'Nothing deletes'], [new BulkWish('block', block: [['note'], ['x']]), 'loan_id'], [new BulkWish('block', block: [['a', 'b'], ['1', '2']]), 'no name of a column'], [new BulkWish('query', sql: 'delete from loans', do: 'call'), '']] as [$wrong, $says]) {
            try {
                $this->dry($wrong);
                self::fail($says);
            } catch (CannotChange $cannot) {
                self::assertStringContainsString($says, $cannot->getMessage());
            }
        }
    }

    public function test_nothing_of_a_query_or_a_block_is_lost_or_taken_twice(): void
    {
        self::assertEquals(['call' => 1, 'refused' => 1], $this->dry(new BulkWish('query', sql: 'select 8812 as loan_id union all select 8812 union all select 99', do: 'call')));
        $dry = app(Bulk::class)->dryRun($this->table(), new BulkWish('block', block: [['loan_id', 'note', 'borrower_code', 'due'], ['99', 'x', 'gull-tower', '2031-01-01']], do: 'put'), $this->analyst);
        self::assertSame(['loan_id' => 'No input of an update or a create is filled by it.'], $dry['shown']['refused'][0]->faults, 'a number that is not there is not left out');
        self::assertEquals(['update' => 1, 'refused' => 2], $this->dry(new BulkWish('block', block: [['loan_id', 'note'], ['8812', 'x'], ['8812', 'y'], ['', 'z']])));
    }

    public function test_an_approval_cannot_be_slipped_past(): void
    {
        $this->source('loans-desk', ['      offered: {borrower_code' => "      approval: {rows: 1}\n      offered: {borrower_code"]);
        $sets = app(ChangeSets::class);
        $second = $this->person(Role::Analyst);
        $this->type([[$this->mark(8812), 'note', 'a'], [$this->mark(8811), 'note', 'b']])->assertOk();
        $set = ChangeSet::query()->firstOrFail();
        $sets->send($set, $this->table(), $this->analyst);
        $sets->approve($set->refresh(), $second);
        $sets->stop($set->refresh());
        $this->type([[$this->mark(8810), 'note', 'smuggled']])->assertOk();
        $sets->send($set->refresh(), $this->table(), $this->analyst);
        self::assertSame(ChangeSetState::Waiting, $set->refresh()->state, 'what was stopped is approved again');
        // A change in bulk that was approved takes nothing more.
        $bulk = app(Bulk::class)->keep($this->table(), new BulkWish('rows', 'loan_id > 8805', sets: ['note' => 'c']), $this->analyst);
        $bulk->update(['approved_by' => $second->id, 'approved_at' => now()]);
        $before = $bulk->changes()->count();
        $sets->giveBack($set->refresh(), $this->analyst);
        $this->actingAs($this->analyst)->post('/tables/loans/change/rows', ['do' => 'call', 'action' => '0', 'rows' => $this->mark(8800), 'set' => (string) $bulk->id]);
        self::assertSame($before, $bulk->changes()->count());
    }

    public function test_what_is_over_goes_after_a_while_and_the_journal_stays(): void
    {
        $this->type([[$this->mark(8812), 'note', 'old'], [$this->mark(8811), 'note', 'pending']]);
        $set = ChangeSet::query()->firstOrFail();
        $set->changes()->where('after', 'like', '%old%')->update(['state' => ChangeState::Done, 'done_at' => now()->subDays(91), 'confirmed_at' => now()->subDays(90)]);
        $bulk = app(Bulk::class)->keep($this->table(), new BulkWish('rows', 'loan_id > 8810', sets: ['note' => 'x']), $this->analyst);
        ChangeSet::query()->whereKey($bulk->id)->toBase()->update(['updated_at' => now()->subDays(91)]);
        ChangeSets::tidy(90);
        self::assertSame(['pending' => 1], $set->counts());
        self::assertNull($bulk->fresh());
    }

    public function test_a_block_changes_what_is_there_creates_what_is_not_and_comes_back_mended(): void
    {
        $open = array_map(static fn (object $row): int => (int) $row->loan_id, $this->rows("select loan_id from loans where status = 'open' order by loan_id limit 3"));
        $closed = (int) $this->rows("select loan_id from loans where status = 'closed' limit 1")[0]->loan_id;
        $block = [['Loan ID', 'due', 'note', 'borrower_code', 'colour'], [(string) $open[0], '2031-05-01', 'a', '', 'red'], [(string) $open[1], 'soon', 'b', '', ''], [(string) $closed, '2031-05-02', 'c', '', ''], ['', '2031-05-03', 'new', 'gull-tower', ''], ['', '2031-05-04', 'nowhere', 'no-house', '']];
        $wish = new BulkWish('block', block: array_map(static fn (array $line): array => array_values(array_diff_key($line, [3 => 1])) === [] ? $line : $line, $block), do: 'put');
        $dry = app(Bulk::class)->dryRun($this->table(), $wish, $this->analyst);
        self::assertSame(['colour'], $dry['unmatched'], 'what is not taken over is said');
        // The records that are there cannot be given another borrower, and the block says that they have none.
        self::assertSame([3, 2], [$dry['counts']['refused'], $dry['counts']['create']]);
        $wish = new BulkWish('block', block: array_map(static fn (array $line): array => array_slice($line, 0, 3), array_slice($block, 0, 4)), do: 'set');
        $set = app(Bulk::class)->keep($this->table(), $wish, $this->analyst);
        $this->actingAs($this->analyst)->post("/tables/loans/change/bulk/$set->id", ['do' => 'all'])->assertRedirect();
        $this->work();
        self::assertEquals(['done' => 1, 'refused' => 1, 'pending' => 1], $set->refresh()->counts());
        self::assertSame(ChangeSetState::Stopped, $set->state);
        $this->get("/tables/loans/change/bulk/$set->id")->assertOk()->assertSee('of which 1 do not fit');
        $csv = array_map(static fn (string $line): array => str_getcsv($line, ',', '"', ''), explode("\n", trim($this->get("/tables/loans/change/bulk/$set->id/refusals.csv")->assertOk()->streamedContent())));
        self::assertSame(['loan_id', 'due', 'note', 'state', 'reason'], $csv[0]);
        self::assertCount(3, $csv);
        // Mended and given back as it is, with its two columns more.
        foreach ($csv as $number => $line) {
            $csv[$number][1] = $line[1] === 'soon' ? '2031-07-07' : $line[1];
        }
        self::assertEquals(['update' => 2], $this->dry(new BulkWish('block', block: $csv, do: 'set')));
    }

    public function test_three_go_first_then_all_and_a_killed_worker_sends_nothing_twice(): void
    {
        $set = app(Bulk::class)->keep($this->table(), new BulkWish('rows', 'status == "open"', sets: ['note' => 'in bulk']), $this->analyst);
        $all = $set->changes()->count();
        $this->actingAs($this->analyst)->post("/tables/loans/change/bulk/$set->id", ['do' => 'three']);
        $this->work();
        self::assertSame(3, $set->refresh()->counts()['done']);
        self::assertStringContainsString('Stopped after the first 3', (string) $set->ended);
        // A process that died left two on their way: one was done, one never left.
        [$one, $other] = $set->changes()->where('state', ChangeState::Pending)->orderBy('number')->limit(2)->get()->all();
        app(Bulk::class);
        $set->changes()->whereIn('id', [$one->id, $other->id])->update(['state' => ChangeState::Sending]);
        $this->patchAtTheDesk((int) ($one->key['loan_id'] ?? 0), ['note' => 'in bulk']);
        $this->post("/tables/loans/change/bulk/$set->id", ['do' => 'all']);
        $this->work();
        self::assertSame(['done' => $all], $set->refresh()->counts());
        self::assertSame(ChangeSetState::Done, $set->state);
        $effects = $this->effects();
        self::assertSame([$all, 1], [$effects['count'], max($effects['by'])]);
        self::assertSame($all, JournalEntry::query()->where('id', '>', $this->before)->where('outcome', 'done')->count());
    }

    public function test_a_set_whose_process_died_is_gone_on_with(): void
    {
        $set = app(Bulk::class)->keep($this->table(), new BulkWish('rows', 'loan_id > 8810', sets: ['note' => 'x']), $this->analyst);
        $set->update(['state' => ChangeSetState::Sending, 'heartbeat_at' => now()->subMinute()]);
        ChangeSets::rescue();
        self::assertSame([ChangeSetState::Queued, 'a worker to go on with it'], [$set->refresh()->state, $set->waits_for]);
        $lock = Courier::lock($set);
        $set->update(['state' => ChangeSetState::Sending, 'heartbeat_at' => now()->subMinute()]);
        self::assertTrue($lock->take());
        ChangeSets::rescue();
        self::assertSame(ChangeSetState::Sending, $set->refresh()->state, 'one whose process lives is left alone');
        $lock->release();
    }

    public function test_the_command_line_does_the_same(): void
    {
        $out = function (string $line): array {
            $code = Artisan::call($line);

            return [$code, trim(Artisan::output())];
        };
        self::assertSame(2, $out('spring:change loans --set=note=x')[0], 'whose rights count has to be said');
        [$code, $said] = $out("spring:change loans --by={$this->analyst->email} --where='loan_id > 8810' --set=note=seen");
        self::assertSame([0, true], [$code, str_starts_with($said, '2 rows would be changed')], $said);
        [$code, $said] = $out("spring:change loans --by={$this->analyst->email} --where='loan_id > 8810' --set=note=seen --send");
        self::assertSame(0, $code, $said);
        self::assertSame('seen', $this->rows('select note from loans where loan_id = 8811')[0]->note);
        [$code, $said] = $out('spring:journal loans 8811 --last=1');
        self::assertStringContainsString("\t8811\tupdate\tdone\t", $said);
        self::assertSame('command line', JournalEntry::query()->latest('id')->value('via'));
        [$code, $said] = $out("spring:change loans --by={$this->person(Role::Builder)->email} --set=note=x");
        self::assertStringContainsString('You may not update records of this table here.', $said);
    }

    public function test_a_builder_says_how_records_are_changed_proves_it_and_gives_rights(): void
    {
        $builder = $this->person(Role::Builder);
        $page = '/sources/loans-desk/endpoints/loans/change';
        $this->actingAs($builder)->get($page)->assertOk()->assertSee('Change a loan')->assertSee('every analyst');
        $this->post("$page/prove", ['record' => '8811'])->assertRedirect();
        $this->get($page)->assertSee('It has all that the table reads of a record')->assertSee('were sent back, and taken (200)');
        self::assertSame(['sheet', '8811'], [JournalEntry::query()->latest('id')->value('via'), JournalEntry::query()->latest('id')->value('record')]);
        $this->post("$page/prove", ['record' => '1'])->assertSessionHasErrors('record');
        $this->post($page, ['role' => ['get' => ['endpoint' => 'loan', 'was' => 'loan', 'inputs' => ['id' => 'loan_id']], 'update' => ['endpoint' => 'change-loan', 'was' => 'change-loan', 'inputs' => ['id' => 'loan_id', 'note' => 'note']]], 'offered' => 'note: seen, lost', 'approval_rows' => '5'])->assertSessionHasNoErrors();
        $change = $this->source->refresh()->current()->endpoint('loans')->endpoint['change'] ?? [];
        self::assertSame(['id' => 'loan_id', 'note' => 'note'], $change['update']['inputs']);
        self::assertEquals([['note' => ['seen', 'lost']], ['rows' => 5]], [$change['offered'], $change['approval']]);
        self::assertArrayNotHasKey('create', $change);
        $this->post($page, ['do' => 'propose'])->assertSessionHasNoErrors();
        self::assertSame('withdraw-loan', $this->source->refresh()->current()->endpoint('loans')->endpoint['change']['delete']['endpoint']);
        $this->post("$page/rights", ['who' => (string) $builder->id, 'kinds' => ['update'], 'columns' => 'note'])->assertRedirect();
        $right = ChangeRight::query()->where('user_id', $builder->id)->firstOrFail();
        self::assertSame([['update'], ['note']], [$right->kinds, $right->columns]);
        $this->post("$page/rights", ['take' => (string) $right->id]);
        self::assertNull($right->fresh());
        $this->actingAs($this->analyst)->get($page)->assertForbidden();
    }

    /**
     * @param  array<string, mixed>  $fields
     */
    private function patchAtTheDesk(int $loan, array $fields): void
    {
        $client = new \GuzzleHttp\Client(['base_uri' => self::$standinsAddress]);
        $token = json_decode((string) $client->post('/loans-desk/oauth/token', ['auth' => ['circle-desk', 'ld-secret-4f0c2a77b1e9d358'], 'form_params' => ['grant_type' => 'client_credentials', 'scope' => 'loans.read loans.write']])->getBody(), true)['access_token'];
        $client->patch("/loans-desk/v2/loans/$loan", ['headers' => ['Authorization' => "Bearer $token"], 'json' => $fields]);
    }
}
