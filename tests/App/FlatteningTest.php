<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Models\Drift;
use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\RejectedValue;
use App\Models\Role;
use App\Models\Run;
use App\Models\RunState;
use App\Models\SeenProfile;
use App\Models\Source;
use App\Models\SourceDocument;
use App\Reservoir\TableStore;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\Tries;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use Brick\Math\BigDecimal;
use DeepSpring\Answer\AnswerDefinition;
use DeepSpring\Flatten\Flattener;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\Proposer;
use DeepSpring\Flatten\Proposal\RecordsFinder;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Core\Flatten\HostileValues;
use Tests\Lane;

/**
 * Answers of every form into tables, over HTTP and into MariaDB; what does not fit; what changes.
 */
final class FlatteningTest extends AppTestCase
{
    private static ?Child $server = null;

    private static string $folder = '';

    private static int $port = 0;

    public static function setUpBeforeClass(): void
    {
        parent::setUpBeforeClass();
        self::$folder = sys_get_temp_dir().'/spring-files-'.getmypid();
        @mkdir(self::$folder);
        self::$port = Lane::ports(8790)->web;
        self::$server = Child::start('files', [PHP_BINARY, '-S', '127.0.0.1:'.self::$port, __DIR__.'/FileServer.php'], ['FILES' => self::$folder], '/dev/null', __DIR__);
        for ($until = microtime(true) + 60; @fsockopen('127.0.0.1', self::$port) === false && microtime(true) < $until; usleep(20_000));
    }

    public static function tearDownAfterClass(): void
    {
        self::$server?->stop(1);
        array_map(unlink(...), (array) glob(self::$folder.'/{,.}[!.]*', GLOB_BRACE));
        @rmdir(self::$folder);
        parent::tearDownAfterClass();
    }

    protected function setUp(): void
    {
        parent::setUp();
        $this->allow(self::$port);
        file_put_contents(self::$folder.'/.requests', '');
    }

    /**
     * @return iterable<string, array{string, string, array<string, mixed>}>
     */
    public static function forms(): iterable
    {
        yield 'JSON' => ['loans.json', '{"data":[{"id":1,"fee":"12.30"},{"id":2,"fee":null}]}', ['records' => '$.data[*]']];
        yield 'lines' => ['loans.ndjson', "{\"id\":1,\"fee\":\"12.30\"}\n{\"id\":2,\"fee\":null}\n", []];
        yield 'XML' => ['loans.xml', '<?xml version="1.0"?><loans><loan><id>1</id><fee>12.30</fee></loan><loan><id>2</id><fee/></loan></loans>', ['records' => '$.loans.loan[*]']];
        yield 'CSV' => ['loans.csv', "id;fee\n1;12.30\n2;\n", []];
        yield 'packed CSV' => ['loans.csv.gz', (string) gzencode("id,fee\n1,12.30\n2,\n"), ['format' => 'csv']];
        yield 'rows' => ['rows.json', '{"columns":[{"name":"id"},{"name":"fee"}],"rows":[[1,"12.30"],[2,null]]}', ['rows' => ['names' => '$.columns[*].name', 'data' => '$.rows[*]']]];
    }

    /**
     * @param  array<string, mixed>  $answer
     */
    #[DataProvider('forms')]
    public function test_every_form_becomes_the_same_table(string $file, string $content, array $answer): void
    {
        $source = $this->kept($file, $content, [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 2]], $answer);
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Done, 2, 0], [$run->state, $run->records, $run->rejects], (string) json_encode($run->diagnosis));
        self::assertSame([['id' => 1, 'fee' => '12.30'], ['id' => 2, 'fee' => null]], array_map(static fn (object $row): array => (array) $row, $this->rows('select id, fee from loans order by id')));
        // The sheet shows the same from the evidence of a try.
        $this->tryIt($source);
        $this->actingAs($this->person())->get('/sources/here/endpoints/loans')->assertOk()->assertSee('12.30');
        $this->get('/sources/here/endpoints/loans/shape')->assertOk()->assertSee('everything fits')->assertSee('2 rows of loans');
    }

    public function test_a_broken_line_is_a_reject_and_the_rest_is_kept(): void
    {
        $source = $this->kept('loans.ndjson', "{\"id\":1}\n{\"id\":\n{\"id\":3}\n");
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Done, 2, 1], [$run->state, $run->rows, $run->rejects]);
        $reject = RejectedValue::query()->firstOrFail();
        self::assertSame(['loans', '', 'page 1: line 2', true], [$reject->table, $reject->column, $reject->path, $reject->whole_record]);
    }

    public function test_every_literal_goes_through_every_type_into_the_database_or_to_the_rejects(): void
    {
        $literals = HostileValues::literals();
        $body = '['.implode(',', array_map(static fn (int $id, string $literal): string => "{\"id\": $id, \"v\": $literal}", array_keys($literals), $literals)).']';
        $columns = [['name' => 'id', 'from' => '$.id', 'type' => 'integer']];
        foreach (HostileValues::types() as $name => $column) {
            $columns[] = ['name' => $name, 'from' => '$.v'] + $column;
        }
        $flatten = ['table' => 'loans', 'key' => ['id'], 'columns' => $columns];
        $source = $this->published('loans.json', $flatten, ['records' => '$[*]']);
        file_put_contents(self::$folder.'/loans.json', $body);
        $run = $this->refresh($source, 'loans');
        $made = (new Flattener(Plan::of($flatten)))->flatten(AnswerDefinition::of(['records' => '$[*]'])->page(json_decode($body, false, 512, JSON_BIGINT_AS_STRING), $body));
        self::assertSame([RunState::Done, count($literals), $made->rejected], [$run->state, $run->rows, $run->rejects], (string) json_encode($run->diagnosis));
        foreach ($this->rows('select * from loans order by id') as $number => $row) {
            foreach (array_values((array) $row) as $place => $cell) {
                $wanted = $made->rows[0][$number][$place];
                $same = match (true) {
                    $wanted === null => $cell === null,
                    in_array($columns[$place]['type'], ['integer', 'decimal'], true) => is_scalar($cell) && BigDecimal::of((string) $cell)->isEqualTo($wanted),
                    $columns[$place]['type'] === 'float' => is_scalar($cell) && (float) $cell === (float) $wanted,
                    in_array($columns[$place]['type'], ['datetime', 'time'], true) => is_string($cell) && str_pad(str_contains($wanted, '.') ? $wanted : "$wanted.", strlen($cell), '0') === $cell,
                    default => (string) $cell === $wanted,
                };
                self::assertTrue($same, "{$literals[$number]} as {$columns[$place]['name']}: ".json_encode($cell).' instead of '.json_encode($wanted));
            }
        }
    }

    public function test_tables_are_made_anew_from_kept_pages_without_asking(): void
    {
        $source = $this->kept('loans.json', '[{"id":1,"fee":"x","town":"Osmery"},{"id":2,"fee":"2.50","town":"Vell"}]', [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'fee', 'from' => '$.fee', 'type' => 'decimal', 'scale' => 2]]);
        $run = $this->refresh($source, 'loans');
        self::assertSame(1, $run->rejects);
        $person = $this->person();
        $this->actingAs($person)->get("/runs/$run->id/rejects")->assertOk()->assertSee('not a number')->assertSee('id=1')->assertSee('Try them again');
        $this->get("/runs/$run->id/rejects?q=nothing")->assertSee('Nothing here is like');
        $csv = $this->get("/runs/$run->id/rejects.csv")->streamedContent();
        self::assertStringContainsString('loans,fee,id=1,page 1: $[0].fee,"""x""",not a number,the value', $csv);

        unlink(self::$folder.'/loans.json');
        $requests = filesize(self::$folder.'/.requests');
        $this->plan($source, [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'fee', 'from' => '$.fee', 'type' => 'text'], ['name' => 'town', 'from' => '$.town', 'type' => 'text']]);
        $this->post("/runs/$run->id/rebuild")->assertRedirect();
        $again = Run::query()->latest('id')->firstOrFail();
        $again = app(Refresh::class)->run($again);
        self::assertSame([RunState::Done, 2, 0, 'rebuild'], [$again->state, $again->rows, $again->rejects, $again->kind], (string) json_encode($again->diagnosis));
        self::assertSame(['x', 'Vell'], [$this->rows('select fee from loans where id = 1')[0]->fee ?? null, $this->rows('select town from loans where id = 2')[0]->town ?? null]);
        clearstatcache();
        self::assertSame($requests, filesize(self::$folder.'/.requests'), 'nothing was asked');
        $this->get("/runs/$again->id")->assertSee('without a request');

        app(TableStore::class)->pages($this->trial(), "e{$this->endpoint($source, 'loans')->id}")->forget();
        $last = app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null, new \App\Runs\RunWish(rebuild: true)));
        self::assertSame([RunState::Failed, 2], [$last->state, (int) $this->rows('select count(*) n from loans')[0]->n]);
        self::assertStringContainsString('No pages are kept', $last->diagnosis['what'] ?? '');
    }

    public function test_branches_of_records_without_a_key_are_joined_by_the_number_of_the_row(): void
    {
        // Two pages, and no two records that differ in anything but what is inside them.
        $record = static fn (string $town, array $lines): array => ['kind' => 'loan', 'lines' => array_map(static fn (string $what): array => ['what' => $what, 'at' => [['town' => $town, 'n' => 1], ['town' => $town, 'n' => 2]]], $lines)];
        file_put_contents(self::$folder.'/second.json', (string) json_encode(['data' => [$record('Vell', ['oar']), $record('Quay', ['rope', 'oar'])], 'next' => null]));
        $first = (string) json_encode(['data' => [$record('Osmery', ['oar', 'lamp']), $record('Marsh', [])], 'next' => 'http://127.0.0.1:'.self::$port.'/second.json']);
        $source = $this->kept('loans.json', $first, [['name' => 'id', 'from' => '$.kind', 'type' => 'text']], ['records' => '$.data[*]']);
        $flatten = (new Proposer)->propose(json_decode($first)->data, 'loans')->flatten;
        $document = $source->current()->document;
        $document['endpoints'][0] = ['onward' => ['style' => 'next-link', 'link' => '$.next'], 'flatten' => $flatten] + $document['endpoints'][0];
        app(SourceStore::class)->draft(SourceFile::of($document), null, $source);
        app(SourceStore::class)->publish($source->refresh(), null);

        $check = function (): void {
            [$lines, $places] = array_values(array_filter($this->tablesInTrial(), static fn (string $table): bool => $table !== 'loans'));
            [$lines, $places] = strlen($lines) < strlen($places) ? [$lines, $places] : [$places, $lines];
            self::assertSame([1, 2, 3, 4], array_map(static fn (object $row): int => (int) $row->row_no, $this->rows('select row_no from loans order by row_no')));
            self::assertSame(['1 lamp', '1 oar', '3 oar', '4 oar', '4 rope'], array_map(static fn (object $row): string => "$row->row_no $row->what", $this->rows("select l.row_no, i.what from loans l join $lines i on i.loan_row = l.row_no order by 1, 2")));
            $of = $this->rows("select l.row_no, p.town, count(*) n from loans l join $lines i on i.loan_row = l.row_no join $places p on p.loan_row = i.loan_row and p.line_position = i.position group by 1, 2 order by 1");
            self::assertSame(['1 Osmery 4', '3 Vell 2', '4 Quay 4'], array_map(static fn (object $row): string => "$row->row_no $row->town $row->n", $of));
        };
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Done, 4], [$run->state, $run->records], (string) json_encode($run->diagnosis));
        $check();
        // Made anew from the kept pages, the numbers are the same.
        $this->actingAs($this->person())->post("/runs/$run->id/rebuild")->assertRedirect();
        $again = app(Refresh::class)->run(Run::query()->latest('id')->firstOrFail());
        self::assertSame([RunState::Done, 'rebuild'], [$again->state, $again->kind], (string) json_encode($again->diagnosis));
        $check();
    }

    public function test_pages_are_kept_only_up_to_a_size_and_are_granted_to_nobody(): void
    {
        config(['spring.limits.kept_pages_bytes' => 100]);
        $source = $this->kept('loans.json', '[{"id":1,"note":"'.str_repeat('x', 200).'"}]');
        self::assertSame(RunState::Done, $this->refresh($source, 'loans')->state);
        $kept = app(TableStore::class)->pages($this->trial(), "e{$this->endpoint($source, 'loans')->id}");
        self::assertNull($kept->about());
        config(['spring.limits.kept_pages_bytes' => 1_000_000]);
        $this->refresh($source, 'loans');
        self::assertSame(1, $kept->about()['pages'] ?? 0);
        $this->actingAs($this->person(Role::Analyst))->post('/queries/run', ['sql' => "select * from pages__e{$this->endpoint($source, 'loans')->id}"])->assertSee('There is no table');
    }

    public function test_what_changes_is_noted_and_answered_with_one_press(): void
    {
        $source = $this->kept('loans.json', $this->loans(60, static fn (int $id): array => ['id' => $id, 'status' => ['open', 'closed'][$id % 2]]), [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'status', 'from' => '$.status']]);
        $this->refresh($source, 'loans');
        self::assertSame([0, 1], [Drift::query()->count(), SeenProfile::query()->count()]);
        file_put_contents(self::$folder.'/loans.json', $this->loans(60, static fn (int $id): array => ['id' => $id, 'status' => $id === 9 ? 'lost' : ['open', 'closed'][$id % 2], 'courier' => ['name' => "Wend $id"], 'debug' => ['a' => 1]]));
        $this->refresh($source, 'loans');
        self::assertSame(['$.courier', '$.debug', 'status'], Drift::open($this->trial())->pluck('path')->all());
        $this->refresh($source, 'loans');
        self::assertSame(3, Drift::query()->count(), 'the same is not noted twice');
        $this->actingAs($this->person());
        $this->get('/')->assertSee('A new field $.courier');
        $this->get('/tables/loans')->assertSee('Leave it out for good')->assertSee('has a new one')->assertSee('Fields over the last 3 runs');

        [$courier, $debug, $status] = Drift::open($this->trial())->get()->all();
        $this->from('/tables/loans')->post("/drifts/$debug->id", ['answer' => 'leave out'])->assertRedirect('/tables/loans');
        self::assertSame(['$.debug'], $source->refresh()->published()?->document['endpoints'][0]['flatten']['leave_out']);
        $this->post("/drifts/$status->id", ['answer' => 'accept'])->assertRedirect();
        $this->post("/drifts/$status->id", ['answer' => 'add'])->assertNotFound();
        unlink(self::$folder.'/loans.json');
        $this->post("/drifts/$courier->id", ['answer' => 'add'])->assertRedirect();
        $run = app(Refresh::class)->run(Run::query()->latest('id')->firstOrFail());
        self::assertSame([RunState::Done, 'rebuild'], [$run->state, $run->kind], (string) json_encode($run->diagnosis));
        self::assertSame('Wend 9', $this->rows('select courier_name from loans where id = 9')[0]->courier_name ?? null);
        self::assertSame(0, Drift::open($this->trial())->count());
    }

    public function test_an_answer_waits_in_the_draft_where_something_else_does(): void
    {
        $source = $this->kept('loans.json', $this->loans(20, static fn (int $id): array => ['id' => $id]));
        $this->refresh($source, 'loans');
        file_put_contents(self::$folder.'/loans.json', $this->loans(20, static fn (int $id): array => ['id' => $id, 'fee' => 1.5]));
        $this->refresh($source, 'loans');
        app(SourceStore::class)->edit($source, $person = $this->person(), static fn (array $document): array => ['source' => ['about' => 'Another text'] + $document['source']] + $document);
        $this->actingAs($person)->from('/tables/loans')->post('/drifts/'.Drift::query()->firstOrFail()->id, ['answer' => 'add'])->assertRedirect();
        self::assertSame(['id', 'fee'], array_column($source->refresh()->current()->document['endpoints'][0]['flatten']['columns'], 'name'));
        self::assertSame(['id'], array_column($source->published()?->document['endpoints'][0]['flatten']['columns'], 'name'));
        $this->actingAs($this->person(Role::Analyst))->post('/drifts/'.Drift::query()->firstOrFail()->id, ['answer' => 'accept'])->assertForbidden();
    }

    public function test_records_that_are_gone_and_keys_that_are_empty_stop_a_run_before_the_swap(): void
    {
        $source = $this->kept('loans.json', '{"data":[{"id":1},{"id":2}]}', answer: ['records' => '$.data[*]']);
        $this->refresh($source, 'loans');
        file_put_contents(self::$folder.'/loans.json', '{"loans":[{"id":1},{"id":2}]}');
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Failed, 'records-gone', false], [$run->state, $run->diagnosis['code'] ?? '', $run->continuable]);
        self::assertStringContainsString('$.loans[*]', $run->diagnosis['what'] ?? '');
        file_put_contents(self::$folder.'/loans.json', '{"data":[{"loan_id":1},{"loan_id":2}]}');
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Failed, 'key-gone'], [$run->state, $run->diagnosis['code'] ?? '']);
        self::assertSame(2, (int) $this->rows('select count(*) n from loans')[0]->n);
        file_put_contents(self::$folder.'/loans.json', '{"data":[]}');
        self::assertSame(RunState::Done, $this->refresh($source, 'loans')->state, 'an empty list is one');
    }

    public function test_masked_values_are_written_nowhere(): void
    {
        $columns = [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'email', 'from' => '$.who.email', 'mask' => 'hash'], ['name' => 'born', 'from' => '$.who.born', 'type' => 'date', 'mask' => 'encrypt'], ['name' => 'note', 'from' => '$.note', 'mask' => 'redact']];
        $source = $this->kept('loans.json', '[{"id":1,"who":{"email":"hidden-one@saltmarsh.example","born":"2001-02-03"},"note":"hidden-note"},{"id":2,"who":{"email":"hidden-one@saltmarsh.example","born":"hidden-day"},"note":null}]', $columns);
        $this->tryIt($source);
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Done, 1], [$run->state, $run->rejects], (string) json_encode($run->diagnosis));
        $everything = json_encode($this->rows('select * from loans')).json_encode(RejectedValue::query()->get()).json_encode(DB::table('pictures')->get()->map(static fn (object $row): string => (string) gzinflate((string) $row->picture)));
        foreach (Exchange::query()->get() as $exchange) {
            $everything .= $exchange->text().$exchange->digested();
        }
        foreach (app(TableStore::class)->pages($this->trial(), "e{$this->endpoint($source, 'loans')->id}")->pages() as [, $body]) {
            $everything .= $body;
        }
        self::assertStringNotContainsString('hidden', $everything);
        self::assertStringNotContainsString('2001-02-03', $everything);
        [$one, $two] = $this->rows('select * from loans order by id');
        self::assertSame($one->email, $two->email);
        self::assertSame(['2001-02-03', null, '[redacted]'], [app(Vault::class)->masks()->open($one->born), $two->born, $one->note]);
        // A service that refuses says what it was given.
        file_put_contents(self::$folder.'/error-422.json', '{"error":{"code":"invalid","detail":[{"email":"hidden-one@saltmarsh.example","note":"hidden-note","at":"Vell"}]}}');
        $document = $source->current()->document;
        $document['endpoints'][0]['ask']['path'] = '/error-422.json';
        app(SourceStore::class)->draft(SourceFile::of($document), null, $source);
        $try = app(Tries::class)->endpoint($this->endpoint($source, 'loans'), $source->refresh()->current(), $source->current()->endpoint('loans') ?? self::fail(), $this->trial(), null);
        $body = (string) $try->exchanges()->firstOrFail()->text();
        self::assertStringNotContainsString('hidden', $body);
        self::assertStringContainsString('"code":"invalid","detail":[{"email":"'.$one->email.'","note":"[redacted]","at":"Vell"}]', $body);
        app(SourceStore::class)->discardDraft($source->refresh());
        // What is kept is flattened again to the same.
        $again = app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null, new \App\Runs\RunWish(rebuild: true)));
        self::assertSame(RunState::Done, $again->state, (string) json_encode($again->diagnosis));
        $same = $this->rows('select * from loans where id = 1')[0];
        self::assertEquals([$one->email, '2001-02-03', $one->note], [$same->email, app(Vault::class)->masks()->open($same->born), $same->note]);
        $this->actingAs($this->person())->get('/tables/loans?reveal=1')->assertSee('2001-02-03');
        $this->actingAs($this->person(Role::Analyst))->get('/tables/loans?reveal=1')->assertOk()->assertDontSee('2001-02-03');
    }

    public function test_a_mask_that_is_set_later_reaches_what_was_written_before(): void
    {
        $columns = [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'email', 'from' => '$.email'], ['name' => 'fee', 'from' => '$.fee', 'type' => 'integer']];
        $source = $this->kept('loans.json', '[{"id":1,"email":"hidden-one@saltmarsh.example","fee":1.50},{"id":2,"email":["hidden-two"],"fee":2}]', $columns);
        $this->tryIt($source);
        self::assertSame(2, $this->refresh($source, 'loans')->rejects);
        // Two versions that were published with a sample; in the first one the answer was described otherwise.
        foreach ([['records' => '$.data[*]', 'sample' => (object) ['data' => [(object) ['id' => 8, 'email' => 'hidden-four']]]], ['records' => '$[*]', 'sample' => [(object) ['id' => 9, 'email' => 'hidden-five', 'fee' => 9]]]] as $answer) {
            $document = $source->refresh()->current()->document;
            $document['endpoints'][0]['answer'] = $answer;
            app(SourceStore::class)->draft(SourceFile::of($document), null, $source);
            app(SourceStore::class)->publish($source->refresh(), null);
        }
        $columns[1]['mask'] = 'hash';
        $document = $source->refresh()->current()->document;
        $document['endpoints'][0]['answer']['sample'] = [(object) ['id' => 3, 'email' => 'hidden-three']];
        $document['endpoints'][0]['flatten']['columns'] = $columns;
        app(SourceStore::class)->draft(SourceFile::of($document), null, $source);
        $versions = $source->refresh()->documents()->orderBy('version')->get();
        $everything = json_encode($versions->map(static fn (SourceDocument $one): array => $one->file()->document)).json_encode(RejectedValue::query()->get());
        $samples = $versions->whereNotNull('version')->map(static fn (SourceDocument $one): mixed => $one->file()->document['endpoints'][0]['answer']['sample'] ?? null)->values();
        self::assertSame([3, null, null, 9], [count($samples), $samples[0], $samples[1], $samples[2][0]->id ?? null], 'what is not masked of a sample stays');
        foreach (Exchange::query()->get() as $exchange) {
            $everything .= $exchange->text();
            self::assertStringContainsString('1.50', (string) $exchange->text(), 'the rest is as it came');
        }
        self::assertStringNotContainsString('hidden', $everything);
        self::assertSame(0, SeenProfile::query()->count());
        self::assertNull(app(TableStore::class)->pages($this->trial(), "e{$this->endpoint($source, 'loans')->id}")->about());
    }

    public function test_a_large_answer_is_read_in_parts(): void
    {
        config(['spring.limits.large_bytes' => 100_000]);
        $columns = [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'as_of', 'envelope' => '$.as_of', 'type' => 'date'], ['name' => 'note', 'from' => '$.note'], ['name' => 'rate', 'from' => '$.rate']];
        $records = implode(',', array_map(static fn (int $id): string => '{"id":'.($id === 7000 ? '"x"' : $id).',"note":"'.str_repeat('n', 150).'","rate":1.50}', range(1, 20_000)));
        $source = $this->kept('loans.json', '{"data":['.$records.'],"as_of":"2031-03-02"}', $columns, ['records' => '$.data[*]']);
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Done, 20_000, 19_999, 1], [$run->state, $run->records, $run->rows, $run->rejects], (string) json_encode($run->diagnosis));
        $row = $this->rows('select min(id) a, max(id) b, count(distinct as_of) c, min(as_of) d, min(rate) e from loans')[0];
        self::assertEquals([1, 20_000, 1, '2031-03-02', '1.50'], array_values((array) $row));
        file_put_contents(self::$folder.'/loans.json', '{"data":['.substr($records, 0, 1_000_000));
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Failed, 'unreadable'], [$run->state, $run->diagnosis['code'] ?? '']);
        self::assertSame(19_999, (int) $this->rows('select count(*) n from loans')[0]->n, 'the old rows stay');
    }

    public function test_where_the_records_are_is_proposed_with_a_reason(): void
    {
        file_put_contents(self::$folder.'/found.json', '{"columns":[{"name":"id"},{"name":"fee"}],"data":[[1,"2.50"],[2,null]],"errors":[]}');
        $source = $this->draft('http://127.0.0.1:'.self::$port, [], [['slug' => 'loans', 'name' => 'Loans', 'ask' => ['path' => '/found.json']]]);
        $this->tryIt($source);
        $this->actingAs($this->person())->get('/sources/here/endpoints/loans')->assertSee('whose 2 names are at $.columns[*].name')->assertSee('records-0');
        $this->post('/sources/here/endpoints/loans', ['do' => 'records', 'at' => '0', 'path' => '/found.json', 'name' => 'Loans'])->assertOk()->assertSee('2 records');
        self::assertSame(['names' => '$.columns[*].name', 'data' => '$.data[*]'], $source->refresh()->current()->document['endpoints'][0]['answer']['rows']);
        $this->post('/sources/here/endpoints/loans', ['do' => 'propose', 'path' => '/found.json', 'name' => 'Loans'])->assertOk()->assertSee('2.50');
        self::assertSame(['id', 'fee'], array_column($source->refresh()->current()->document['endpoints'][0]['flatten']['columns'], 'name'));
    }

    public function test_shaping_is_done_step_by_step_and_undone(): void
    {
        $source = $this->kept('loans.json', '[{"id":1,"who":{"name":"Reed"},"items":[{"no":"a"}]},{"id":2,"who":{"name":"Wend"},"items":[]}]');
        $this->tryIt($source);
        $this->actingAs($this->person());
        $url = '/sources/here/endpoints/loans/shape';
        $names = fn (): array => array_column($source->refresh()->current()->document['endpoints'][0]['flatten']['columns'], 'name');
        $this->post($url, ['do' => 'add', 'path' => '$.who.name'])->assertOk()->assertSee('the same rows');
        $this->post($url, ['do' => 'add', 'path' => '$.items'])->assertSee('loan_items: 1 row');
        $this->post($url, ['do' => 'compute', 'table' => '0', 'name' => 'twice', 'expression' => 'id * 2'])->assertSee('computed');
        self::assertSame(['id', 'who_name', 'twice'], $names());
        $this->post($url, ['do' => 'compute', 'table' => '0', 'name' => 'no', 'expression' => 'idd * 2'])->assertSee('was probably meant')->assertHeader('HX-Reswap', 'none');
        self::assertSame(['id', 'who_name', 'twice'], $names());
        $this->post($url, ['do' => 'rename', 'table' => '0', 'column' => '0', 'name' => 'loan'])->assertOk();
        self::assertSame('loan * 2', $source->refresh()->current()->document['endpoints'][0]['flatten']['columns'][2]['compute']);
        $this->post($url, ['do' => 'set', 'table' => '0', 'column' => '1', 'type' => 'integer'])->assertSee('rejects: 0 → 2');
        $this->post($url, ['do' => 'set', 'table' => '0', 'column' => '1', 'read_as' => 'nonsense'])->assertSee('says nothing of how a number is written');
        $this->post($url, ['do' => 'undo'])->assertSee('rejects: 2 → 0');
        $this->post($url, ['do' => 'table', 'table' => '0', 'name' => 'loans', 'where' => 'loan > 1'])->assertSee('loans: 2 → 1 row')->assertSee('left out by conditions: 0 → 1');
        foreach (range(1, 5) as $step) {
            $this->post($url, ['do' => 'undo'])->assertOk();
        }
        self::assertSame(['id'], $names());
        $this->post($url, ['do' => 'redo']);
        self::assertSame(['id', 'who_name'], $names());
        $this->get("$url/record?record=1")->assertOk()->assertSee('Wend');
        $this->get("$url/record?record=9")->assertNotFound();
        $this->actingAs($this->person(Role::Analyst))->post($url, ['do' => 'undo'])->assertForbidden();
    }

    public function test_values_are_shown_as_they_are_and_nothing_is_called_dropped_or_kept_that_is_not(): void
    {
        $source = $this->kept('loans.json', '[{"id":1,"who":"Reed & <Sons>"},{"id":2,"who":""}]');
        $this->tryIt($source);
        $this->actingAs($this->person());
        $url = '/sources/here/endpoints/loans';
        $this->post("$url/shape", ['do' => 'add', 'path' => '$.who'])->assertOk();
        $this->get("$url/shape")->assertSee('Reed &amp; &lt;Sons&gt; · &quot;&quot;', false)->assertDontSee('&amp;amp;', false)->assertDontSee('&lt;span', false);
        $this->get($url)->assertSee('nothing dropped');
        $this->post("$url/shape", ['do' => 'table', 'table' => '0', 'name' => 'loans', 'where' => 'id > 1'])->assertOk();
        $this->get($url)->assertDontSee('nothing dropped')->assertSee('1 row left out by conditions');
    }

    public function test_what_reads_a_column_that_goes_is_said_first(): void
    {
        $source = $this->kept('loans.json', '[{"id":1,"fee":2}]', [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'fee', 'from' => '$.fee', 'type' => 'integer']]);
        $this->refresh($source, 'loans');
        $this->tryIt($source);
        $this->actingAs($person = $this->person())->post('/queries', ['name' => 'Fees', 'sql' => 'select fee from loans']);
        $this->post('/sources/here/endpoints/loans/shape', ['do' => 'drop', 'table' => '0', 'column' => '1'])->assertSee('1 kept column will be gone')->assertSee('read by Fees');
        self::assertSame(1, (int) $this->rows('select count(fee) n from loans')[0]->n, 'nothing is lost before it is published and refreshed');
    }

    /**
     * @return iterable<string, array{string, string, int, int}>
     */
    public static function documents(): iterable
    {
        $modules = dirname(__DIR__, 2).'/node_modules';
        $types = (array) json_decode((string) file_get_contents("$modules/mime-db/db.json"), true);
        yield 'media types' => ["$modules/mime-db/db.json", '$.*', count($types), array_sum(array_map(static fn (mixed $one): int => is_array($one) ? count($one['extensions'] ?? []) : 0, $types))];
        $countries = (array) json_decode((string) file_get_contents("$modules/world-countries/countries.json"), true);
        yield 'countries' => ["$modules/world-countries/countries.json", '$[*]', count($countries), array_sum(array_map(static fn (mixed $one): int => is_array($one) ? count($one['languages']) : 0, $countries))];
        $composer = dirname(__DIR__, 2).'/vendor/composer/installed.json';
        $packages = (array) json_decode((string) file_get_contents($composer), true)['packages'];
        yield 'packages' => [$composer, '$.packages[*]', count($packages), array_sum(array_map(static fn (mixed $one): int => is_array($one) ? count($one['authors'] ?? []) : 0, $packages))];
    }

    /**
     * @param  int  $inside  elements of one list or dictionary inside the records, counted by hand
     */
    #[DataProvider('documents')]
    public function test_documents_nobody_here_wrote_are_proposed_and_loaded_whole(string $file, string $records, int $count, int $inside): void
    {
        $content = (string) file_get_contents($file);
        $document = json_decode($content, false, 512, JSON_BIGINT_AS_STRING);
        $found = (new RecordsFinder)->find($document)[0];
        self::assertSame($records, $found->answer['records'] ?? '');
        $page = AnswerDefinition::of($found->answer)->page($document);
        $proposal = (new Proposer)->propose($page->values, 'found', $page->members)->flatten;
        $batch = (new Flattener(Plan::of($proposal)))->flatten($page);
        self::assertSame(0, $batch->rejected);
        unset($document, $page);
        file_put_contents(self::$folder.'/found.json', $content);
        $source = $this->published('found.json', $proposal, $found->answer);
        $run = $this->refresh($source, 'loans');
        self::assertSame([RunState::Done, $count, 0], [$run->state, $run->records, $run->rejects], (string) json_encode($run->diagnosis));
        $tables = KeptTable::query()->pluck('rows', 'name')->all();
        self::assertSame($count, $tables['found']);
        self::assertContains($inside, $tables, (string) json_encode($tables));
    }

    /**
     * @param  list<array<string, mixed>>  $columns
     * @param  array<string, mixed>  $answer
     */
    private function kept(string $file, string $content, array $columns = [['name' => 'id', 'from' => '$.id', 'type' => 'integer']], array $answer = ['records' => '$[*]']): Source
    {
        file_put_contents(self::$folder."/$file", $content);

        return $this->published($file, ['table' => 'loans', 'key' => ['id'], 'columns' => $columns], str_ends_with($file, '.json') || $answer !== ['records' => '$[*]'] ? $answer : []);
    }

    /**
     * @param  array<string, mixed>  $flatten
     * @param  array<string, mixed>  $answer
     */
    private function published(string $file, array $flatten, array $answer): Source
    {
        $endpoint = ['slug' => 'loans', 'name' => 'Loans', 'ask' => ['path' => "/$file"]] + ($answer === [] ? [] : ['answer' => $answer]) + ['flatten' => $flatten];
        $source = $this->draft('http://127.0.0.1:'.self::$port, [], [$endpoint]);
        app(SourceStore::class)->publish($source, null);

        return $source->refresh();
    }

    /**
     * @param  list<array<string, mixed>>  $columns
     */
    private function plan(Source $source, array $columns): void
    {
        $document = $source->refresh()->current()->document;
        $document['endpoints'][0]['flatten']['columns'] = $columns;
        app(SourceStore::class)->draft(SourceFile::of($document), null, $source);
        app(SourceStore::class)->publish($source, null);
    }

    private function tryIt(Source $source): void
    {
        $try = app(Tries::class)->endpoint($this->endpoint($source, 'loans'), $source->refresh()->current(), $source->current()->endpoint('loans') ?? self::fail(), $this->trial(), null);
        self::assertTrue($try->succeeded, (string) json_encode($try->diagnosis));
    }

    /**
     * @param  \Closure(int): array<string, mixed>  $loan
     */
    private function loans(int $count, \Closure $loan): string
    {
        return (string) json_encode(array_map($loan, range(1, $count)));
    }
}
