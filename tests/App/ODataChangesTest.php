<?php

declare(strict_types=1);

namespace Tests\App;

use App\Changes\ChangeProof;
use App\Changes\ChangeSets;
use App\Changes\ChangeTable;
use App\Changes\Courier;
use App\Changes\PendingChanges;
use App\Models\Change;
use App\Models\ChangeRight;
use App\Models\ChangeSet;
use App\Models\ChangeSetState;
use App\Models\JournalEntry;
use App\Models\KeptTable;
use App\Models\Source;
use App\Models\User;
use App\OData\MetadataFetcher;
use App\Reservoir\TableReader;
use App\Sources\SourceStore;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use PHPUnit\Framework\Attributes\DataProvider;

/**
 * Records of entity sets changed, with all that is needed for it derived from the metadata of the service.
 */
final class ODataChangesTest extends AppTestCase
{
    private User $builder;

    private Source $source;

    private string $slug = '';

    /** The last entry of the journal that is of an earlier test. */
    private int $before = 0;

    /**
     * @return iterable<string, array{string}>
     */
    public static function versions(): iterable
    {
        yield '4.01' => ['v4'];
        yield '2.0' => ['v2'];
    }

    #[DataProvider('versions')]
    public function test_everything_is_derived_proved_and_changed_with_etags(string $version): void
    {
        $this->derive($version, 'ConditionReports');
        $change = $this->source->current()->endpoint('list')->endpoint['change'] ?? [];
        self::assertSame(['get', 'create', 'update', 'delete'], array_keys($change));
        self::assertSame('get-condition-report', $change['get']['endpoint']);
        $inputs = fn (string $role): array => array_intersect_key($change[$role]['inputs'], ['ObjectNumber' => 1, 'Line' => 1, 'Grade' => 1, 'Note' => 1]);
        self::assertEquals(['ObjectNumber' => 'object_number', 'Line' => 'line'], $change['get']['inputs']);
        self::assertEquals(['ObjectNumber' => 'object_number', 'Line' => 'line', 'Grade' => 'grade', 'Note' => 'note'], $inputs('update'));
        self::assertArrayNotHasKey('If-Match', $change['update']['inputs']);

        $proof = app(ChangeProof::class)->prove($this->table()->table, $this->source->current(), $this->table()->plan, $this->mark('0001.02', 1), $this->trial(), $this->builder);
        self::assertSame([true, true], array_column($proof, 'ok'), (string) json_encode($proof));
        self::assertStringContainsString('its ETag is W/', $proof[0]['says']);

        $noted = $this->rows("select object_number, line from `{$this->slug}` where note is not null and object_number <> '0001.02' order by 1, 2 limit 1")[0];
        $set = $this->sent(['0001.02|1' => ['note' => 'Looked at again', 'grade' => 'Worn'], "$noted->object_number|$noted->line" => ['note' => '']]);
        self::assertSame(['done' => 2], $set->counts(), (string) json_encode($set->changes()->pluck('reason')));
        $pending = $this->pending(['0001.02|2' => ['note' => 'Not sent']]);
        $this->get("/tables/{$this->slug}/change/look")->assertOk()->assertSee('if-match: the ETag that the look before finds')->assertSee('with its ETag where there is one.');
        $pending->changes()->where('state', ChangeState::Pending)->delete();
        $there = $this->record($version, '0001.02', 1);
        self::assertSame(['Looked at again', 'Worn'], [$there->Note, $there->Grade]);
        self::assertNull($this->record($version, $noted->object_number, (int) $noted->line)->Note);
        self::assertSame('Looked at again', $this->kept('0001.02', 1)->note);
        self::assertMatchesRegularExpression('/^if-match: W\/"[0-9a-f]{12}"$/m', $this->journal($set)[0]->request, 'the state that was looked at');
        self::assertStringContainsString($version === 'v4' ? 'PATCH' : 'MERGE', $this->journal($set)[0]->request);
    }

    #[DataProvider('versions')]
    public function test_somebody_else_changes_it_between_the_look_and_the_change(string $version): void
    {
        $this->derive($version, 'ConditionReports');
        $set = $this->pending(['0001.02|1' => ['note' => 'Mine']]);
        $this->other('ConditionReports', "ObjectNumber='0001.02',Line=1", ['Note' => 'Theirs']);
        $this->send($set);
        $change = $set->changes()->firstOrFail();
        self::assertSame([ChangeState::Conflict, ['note' => 'Theirs']], [$change->state, $change->theirs]);
        app(ChangeSets::class)->settle($change->load('set.user'), $this->table(), 'mine');
        $this->send($set->refresh());
        self::assertSame('Mine', $this->record($version, '0001.02', 1)->Note);
    }

    #[DataProvider('versions')]
    public function test_records_are_created_refused_at_their_field_and_deleted(string $version): void
    {
        $this->derive($version, 'ConditionReports');
        $changes = app(PendingChanges::class);
        $set = $changes->open($this->table(), $this->builder);
        foreach ([['object_number' => '0001.02', 'line' => '31', 'seen' => '2031-03-02 10:00', 'grade' => 'Sound', 'note' => 'New'], ['object_number' => '0001.02', 'line' => '1', 'seen' => '2031-03-02', 'grade' => 'Sound']] as $cells) {
            $changes->add($this->table(), $set->refresh(), $cells);
        }
        $this->send($set->refresh());
        $states = $set->changes()->orderBy('number')->get();
        self::assertSame([ChangeState::Done, ChangeState::Refused], $states->pluck('state')->all(), json_encode($states->map(fn (Change $one): array => $this->table()->plan->asked($one->wanted())->faults)).$states->pluck('reason'));
        self::assertStringContainsString('exists already', (string) $states[1]->reason);
        self::assertSame('New', $this->kept('0001.02', 31)->note);
        $states[1]->delete();
        $changes->call($this->table(), $set->refresh(), $this->mark('0001.02', 31), RecordAct::Delete);
        $this->send($set->refresh());
        self::assertSame(['done' => 2], $set->counts(), (string) json_encode($set->changes()->pluck('reason')));
        self::assertSame([], $this->rows("select * from `{$this->slug}` where object_number = '0001.02' and line = 31"));
    }

    #[DataProvider('versions')]
    public function test_many_travel_in_one_batch_each_with_its_own_answer(string $version): void
    {
        $this->derive($version, 'ConditionReports', ['batch' => ['most' => 40]]);
        $rows = array_map(static fn (object $one): string => "$one->object_number|$one->line", $this->rows("select object_number, line from `{$this->slug}` order by 1, 2 limit 100"));
        $set = $this->pending(array_fill_keys($rows, ['note' => 'In one go']));
        [$object, $line] = explode('|', $rows[7]);
        $this->other('ConditionReports', "ObjectNumber='$object',Line=$line", ['Note' => 'Theirs']);
        $this->faults('registrar', ['counts' => true]);
        $before = $this->requests();
        try {
            $this->send($set);
        } finally {
            $this->faults('registrar', []);
        }
        self::assertGreaterThan(0, $this->requests() - $before);
        self::assertEquals(['done' => 99, 'conflict' => 1], $set->counts(), (string) json_encode($set->changes()->pluck('reason')->countBy()));
        self::assertSame(99, (int) $this->rows("select count(*) as n from `{$this->slug}` where note = 'In one go'")[0]->n);
        self::assertSame(99, count(array_filter($this->journal($set), static fn (JournalEntry $one): bool => $one->outcome === 'done')));
        self::assertLessThanOrEqual(18, $this->requests() - $before, 'looks and changes in batches, and looks after them where the answer holds no record');
        $entry = $this->journal($set)[0];
        self::assertStringContainsString('in this request:)', $entry->request);
        self::assertMatchesRegularExpression('~(PATCH|MERGE) ConditionReports\(ObjectNumber=%27[\d.]+%27,Line=\d+\) HTTP/1.1~', $entry->request);
        self::assertMatchesRegularExpression('/^if-match: W\//m', $entry->request);
        self::assertStringNotContainsString(base64_encode('circle:rg-demo-lamp-and-oar'), $entry->request);
        self::assertSame('In one go', $this->record($version, ...self::key($rows[0]))->Note);
        self::assertSame('Theirs', $this->record($version, ...self::key($rows[7]))->Note);
    }

    public function test_all_of_a_change_set_is_done_or_nothing(): void
    {
        $this->derive('v4', 'ConditionReports', ['batch' => ['as_one' => true]]);
        $changes = app(PendingChanges::class);
        $set = $this->pending(['0001.02|1' => ['note' => 'Together']]);
        // It is there already, which only the service knows.
        $changes->add($this->table(), $set->refresh(), ['object_number' => '0001.02', 'line' => '1', 'seen' => '2031-03-02', 'grade' => 'Sound']);
        $this->send($set->refresh());
        self::assertSame(['refused' => 2], $set->counts(), (string) json_encode($set->changes()->pluck('reason')));
        self::assertStringStartsWith('None of the 2 changes of its change set was done: An entity with this key exists already.', (string) $set->changes()->value('reason'));
        self::assertNotSame('Together', $this->record('v4', '0001.02', 1)->Note);
        $set->changes()->where('kind', 'create')->delete();
        app(ChangeSets::class)->settle($set->changes()->with('set.user')->firstOrFail(), $this->table(), 'again');
        $this->send($set->refresh());
        self::assertSame('Together', $this->record('v4', '0001.02', 1)->Note);
    }

    public function test_what_had_left_when_the_process_died_is_unknown_and_the_rest_is_sent(): void
    {
        $this->derive('v4', 'ConditionReports', ['batch' => ['most' => 10]]);
        $changes = app(PendingChanges::class);
        $set = $changes->open($this->table(), $this->builder);
        foreach ([31, 32, 33] as $line) {
            $changes->add($this->table(), $set->refresh(), ['object_number' => '0001.02', 'line' => (string) $line, 'seen' => '2031-03-02', 'grade' => 'Sound']);
        }
        foreach ([31 => null, 32 => 'together', 33 => 'alone'] as $line => $travels) {
            $set->changes()->where('after', 'like', "%\"line\":\"$line\"%")->update(['state' => ChangeState::Sending, 'travels' => $travels]);
        }
        $set->update(['state' => ChangeSetState::Queued]);
        app(Courier::class)->run($set->refresh());
        self::assertEquals(['done' => 1, 'unknown' => 2], $set->refresh()->counts(), (string) json_encode($set->changes()->pluck('reason')));
        self::assertSame([31], array_map(static fn (object $one): int => (int) $one->line, $this->rows("select line from `{$this->slug}` where object_number = '0001.02' and line > 30 order by 1")));
    }

    public function test_a_service_without_batches_is_sent_one_at_a_time(): void
    {
        $this->derive('v4', 'ConditionReports', ['batch' => ['most' => 10]]);
        $this->faults('registrar', ['no_batch' => true]);
        try {
            $set = $this->sent(['0001.02|1' => ['note' => 'One'], '0002.03|1' => ['note' => 'Two']]);
        } finally {
            $this->faults('registrar', []);
        }
        self::assertSame(['done' => 2], $set->counts(), (string) json_encode($set->changes()->pluck('reason')));
        self::assertSame('Two', $this->record('v4', '0002.03', 1)->Note);
        self::assertStringNotContainsString('in this request', $this->journal($set)[0]->request);
    }

    /**
     * @return array{string, int}
     */
    private static function key(string $row): array
    {
        [$object, $line] = explode('|', $row);

        return [$object, (int) $line];
    }

    /**
     * Requests that the registrar has had.
     */
    private function requests(): int
    {
        $context = stream_context_create(['http' => ['header' => 'Authorization: Basic '.base64_encode('circle:rg-demo-lamp-and-oar')]]);

        return (int) (json_decode((string) file_get_contents(self::$standinsAddress.'/registrar/requests', false, $context), true)['count'] ?? self::fail('It does not count.'));
    }

    /**
     * @param  array<string, mixed>  $more  of `change`
     */
    private function derive(string $version, string $set, array $more = []): void
    {
        $this->builder = $this->person();
        $this->before = (int) JournalEntry::query()->max('id');
        $access = [['scheme' => 'basic', 'username' => 'circle', 'password' => 'rg-demo-lamp-and-oar'], ...($version === 'v2' ? [['scheme' => 'csrf-token', 'fetch' => ['path' => '/Venues']]] : [])];
        $this->source = $this->draft(self::$standinsAddress."/registrar/$version", $access, [['slug' => 'list', 'name' => 'Reports', 'entity_set' => $set]], ['kind' => 'odata', 'odata' => ['version' => (int) $version[1]]]);
        $read = app(MetadataFetcher::class)->read($this->source, $this->trial(), null);
        self::assertTrue($read->succeeded, (string) json_encode($read->diagnosis));
        $page = $this->actingAs($this->builder)->get($this->settings())->assertOk();
        $page->assertSee('Added to the draft with it')->assertSee('Change a condition report');
        $this->post($this->settings(), ['do' => 'propose'])->assertSessionHasNoErrors();
        $more === [] || app(SourceStore::class)->edit($this->source->refresh(), null, static function (array $document) use ($more): array {
            $document['endpoints'][0]['change'] += $more;

            return $document;
        });
        app(SourceStore::class)->publish($this->source->refresh(), null);
        $this->source->refresh();
        $run = $this->refresh($this->source, 'list');
        self::assertSame(2803, $run->rows, (string) json_encode($run->diagnosis));
        $this->slug = (string) KeptTable::query()->where('endpoint_id', $run->endpoint_id)->value('name');
        ChangeRight::query()->create(['endpoint_id' => $run->endpoint_id, 'environment_id' => $this->trial()->id, 'user_id' => $this->builder->id]);
    }

    private function settings(): string
    {
        return "/sources/{$this->source->slug}/endpoints/list/change";
    }

    private function table(): ChangeTable
    {
        return ChangeTable::of(KeptTable::query()->where('name', $this->slug)->firstOrFail()) ?? self::fail('It cannot be changed.');
    }

    private function mark(string $object, int $line): string
    {
        return app(TableReader::class)->marksOf($this->table()->table, ['object_number' => $object, 'line' => (string) $line], 1)[0];
    }

    /**
     * @param  array<string, array<string, string>>  $cells  by "object|line"
     */
    private function pending(array $cells): ChangeSet
    {
        $changes = app(PendingChanges::class);
        $set = $changes->open($this->table(), $this->builder);
        $edits = [];
        foreach ($cells as $key => $of) {
            [$object, $line] = explode('|', $key);
            foreach ($of as $column => $text) {
                $edits[] = ['row' => $this->mark($object, (int) $line), 'column' => $column, 'text' => $text];
            }
        }
        $changes->edit($this->table(), $set, $edits);

        return $set->refresh();
    }

    private function send(ChangeSet $set): ChangeSet
    {
        app(ChangeSets::class)->send($set, $this->table(), $this->builder, queue: false);
        app(Courier::class)->run($set->refresh());

        return $set->refresh();
    }

    /**
     * @param  array<string, array<string, string>>  $cells
     */
    private function sent(array $cells): ChangeSet
    {
        return $this->send($this->pending($cells));
    }

    private function record(string $version, string $object, int $line): \stdClass
    {
        $context = stream_context_create(['http' => ['header' => ['Authorization: Basic '.base64_encode('circle:rg-demo-lamp-and-oar'), 'Accept: application/json']]]);
        $read = json_decode((string) file_get_contents(self::$standinsAddress."/registrar/$version/ConditionReports(ObjectNumber='$object',Line=$line)", false, $context));

        return $read->d ?? $read;
    }

    /**
     * @param  array<string, mixed>  $values
     */
    private function other(string $set, string $key, array $values): void
    {
        $context = stream_context_create(['http' => ['method' => 'PATCH', 'content' => (string) json_encode($values), 'header' => ['Authorization: Basic '.base64_encode('circle:rg-demo-lamp-and-oar'), 'Content-Type: application/json', 'If-Match: *']]]);
        self::assertNotFalse(file_get_contents(self::$standinsAddress."/registrar/v4/$set($key)", false, $context));
    }

    private function kept(string $object, int $line): \stdClass
    {
        return (object) (array) $this->rows("select * from `{$this->slug}` where object_number = '$object' and line = $line")[0];
    }

    /**
     * @return list<JournalEntry>
     */
    private function journal(ChangeSet $set): array
    {
        return array_values(JournalEntry::query()->where('id', '>', $this->before)->whereIn('change_id', Change::query()->where('change_set_id', $set->id)->pluck('id'))->orderBy('id')->get()->all());
    }
}
