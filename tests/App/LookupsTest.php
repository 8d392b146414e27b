<?php

declare(strict_types=1);

namespace Tests\App;

use App\Evidence\LookupAnswers;
use App\Local\Child;
use App\Local\Ports;
use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Source;
use App\Reservoir\TableStore;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Sources\SourceStore;
use Illuminate\Support\Facades\DB;
use Tests\Lane;

/**
 * One request for each row of a table, against a service that finds not everything and fails at times.
 */
final class LookupsTest extends AppTestCase
{
    private ?Child $server = null;

    private string $folder = '';

    private int $port = 0;

    protected function setUp(): void
    {
        parent::setUp();
        $this->folder = sys_get_temp_dir().'/spring-lookups-'.getmypid();
        is_dir($this->folder) || mkdir($this->folder);
        $ports = Lane::ports(9100);
        $this->port = $ports->web;
        $this->allow($ports->web);
        $this->allow($ports->web + 1);
        $this->server = Child::start('things', [PHP_BINARY, '-S', "127.0.0.1:$ports->web", __DIR__.'/LookupServer.php'], ['LOOKUPS' => "$this->folder/asked.log", 'FILES' => $this->folder, 'PHP_CLI_SERVER_WORKERS' => '4'], '/dev/null', __DIR__);
        Ports::await($ports->web, 'The things');
    }

    protected function tearDown(): void
    {
        $this->server?->stop(1);
        array_map(unlink(...), (array) glob("$this->folder/{,.}[!.]*", GLOB_BRACE));
        is_dir($this->folder) && rmdir($this->folder);
        parent::tearDown();
    }

    /**
     * Requests since the last time.
     *
     * @return list<string>
     */
    private function asked(): array
    {
        $lines = is_file("$this->folder/asked.log") ? array_map(trim(...), (array) file("$this->folder/asked.log", FILE_IGNORE_NEW_LINES)) : [];
        @unlink("$this->folder/asked.log");
        sort($lines);

        return $lines;
    }

    /**
     * A table of rows that are there already, with an id, the number of a thing and a name.
     *
     * @param  list<array{int, int|null, string}>  $rows
     */
    private function rowsAre(array $rows): void
    {
        DB::connection('keeper')->unprepared('create schema if not exists deep_spring_test_data_trial');
        DB::connection('keeper')->unprepared('create or replace table deep_spring_test_data_trial.crates (id bigint not null primary key, thing int null, name varchar(64) collate utf8mb4_nopad_bin null)');
        foreach ($rows as $row) {
            DB::connection('keeper')->insert('insert into deep_spring_test_data_trial.crates values (?, ?, ?)', $row);
        }
        $source = Source::query()->where('slug', 'crates-source')->first() ?? $this->draftOf('crates-source');
        $columns = array_map(static fn (array $one): array => ['name' => $one[0], 'given' => $one[0], 'type' => $one[1], 'label' => $one[1], 'scale' => null, 'from' => '$', 'comment' => '', 'mask' => 'none'], [['id', 'integer'], ['thing', 'integer'], ['name', 'text']]);
        $run = Run::query()->create(['endpoint_id' => $this->endpoint($source, 'crates')->id, 'environment_id' => $this->trial()->id, 'version' => 1, 'state' => RunState::Done]);
        KeptTable::query()->updateOrCreate(['environment_id' => $this->trial()->id, 'name' => 'crates'], ['endpoint_id' => $run->endpoint_id, 'run_id' => $run->id, 'given_name' => 'crates', 'is_branch' => false, 'columns' => $columns, 'key' => ['id'], 'rows' => count($rows), 'refreshed_at' => now()]);
    }

    private function draftOf(string $slug): Source
    {
        return $this->draft("http://127.0.0.1:$this->port", [], [['slug' => 'crates', 'name' => 'Crates', 'ask' => ['path' => '/crates']]], ['slug' => $slug]);
    }

    /**
     * @param  array<string, mixed>  $lookup
     * @param  array<string, mixed>  $changes  of the endpoint
     */
    private function lookup(array $lookup = [], array $changes = []): Source
    {
        $source = $this->draft("http://127.0.0.1:$this->port", [], [array_replace([
            'slug' => 'parts', 'name' => 'Parts', 'ask' => ['path' => '/things/{number}', 'inputs' => [['name' => 'number', 'in' => 'path', 'type' => 'integer', 'required' => true, 'try' => 1], ['name' => 'kind', 'in' => 'query'], ['name' => 'delay', 'in' => 'query']]],
            'answer' => ['records' => '$.parts[*]'], 'onward' => ['style' => 'cursor', 'send_as' => 'page', 'next' => '$.next'],
            'flatten' => ['table' => 'parts', 'key' => ['crate', 'part'], 'columns' => [['name' => 'crate', 'row' => 'id', 'type' => 'integer'], ['name' => 'crate_name', 'row' => 'name', 'type' => 'text'], ['name' => 'part', 'from' => '$.part', 'type' => 'text'], ['name' => 'kind', 'from' => '$.kind', 'type' => 'text']]],
            'keep' => ['inputs' => ['number' => ['from' => ['table' => 'crates', 'column' => 'thing']]]] + ($lookup === [] ? [] : ['lookup' => $lookup]),
        ], $changes)], ['pace' => ['at_once' => 4, 'tries' => 2]]);
        app(SourceStore::class)->publish($source, null);

        return $source->refresh();
    }

    private function read(Source $source, RunWish $wish = new RunWish): Run
    {
        return app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'parts'), $this->trial(), null, $wish));
    }

    /**
     * @return list<string>
     */
    private function kept(string $sql = "select concat_ws(' ', crate, crate_name, coalesce(part, '-'), kind) r from parts"): array
    {
        return array_map(static fn (object $row): string => (string) $row->r, $this->rows($sql));
    }

    public function test_each_row_is_asked_for_and_what_came_carries_its_key(): void
    {
        $this->rowsAre([[1, 11, 'red'], [2, 20, 'blue'], [3, 13, 'green'], [4, 11, 'white'], [5, null, 'bare'], [6, 17, 'grey'], [7, 66, 'broken'], [8, 19, 'empty'], [9, 55, 'odd']]);
        $run = $this->read($this->lookup());
        self::assertSame([RunState::Done, true], [$run->state, $run->isInDoubt()], (string) json_encode($run->diagnosis));
        self::assertSame(['1 red 11', '2 blue 20.1', '2 blue 20.2', '4 white 11', '6 grey 17'], $this->kept());
        self::assertSame(['rows' => 9, 'known' => 1, 'asked' => 7, 'empty' => 1, 'failed' => 3, 'without' => 1], $run->lookup);
        self::assertSame('9 rows: 7 asked, 1 known already, 1 of them with nothing, 3 failed; 1 row has nothing to ask with.', $run->ended);
        self::assertSame(['/things/11 1', '/things/13 1', '/things/17 1', '/things/17 1', '/things/19 1', '/things/20 1', '/things/20 2', '/things/55 1', '/things/66 1'], $this->asked(), 'the same is asked once, and what failed in passing twice');
        $rejects = RejectedValue::query()->where('run_id', $run->id)->orderBy('page')->get();
        self::assertSame([['row 3, number = 13', '{"number":"13"}'], ['row 7, number = 66', '{"number":"66"}'], ['row 9, number = 55', '{"number":"55"}']], $rejects->map(static fn (RejectedValue $one): array => [$one->path, $one->value])->all());
        self::assertStringContainsString('404', $rejects[0]->reason);
        self::assertStringContainsString('500', $rejects[1]->reason);
        self::assertSame(3, Exchange::query()->where('run_id', $run->id)->whereNull('records')->distinct()->count('number'), 'the request of each is kept with its answer');
        self::assertSame([9, 3], [$run->pages, $run->rejects]);
    }

    public function test_not_found_can_mean_that_there_is_nothing_and_every_row_can_be_a_row(): void
    {
        $this->rowsAre([[1, 11, 'red'], [3, 13, 'green'], [5, null, 'bare'], [7, 66, 'broken'], [8, 19, 'empty']]);
        $run = $this->read($this->lookup(['not_found' => 'empty', 'rows' => 'all'], ['flatten' => ['table' => 'parts', 'key' => ['crate'], 'columns' => [['name' => 'crate', 'row' => 'id', 'type' => 'integer'], ['name' => 'crate_name', 'row' => 'name', 'type' => 'text'], ['name' => 'part', 'from' => '$.part', 'type' => 'text'], ['name' => 'kind', 'from' => '$.kind', 'type' => 'text']]]]));
        self::assertSame(['1 red 11', '3 green -', '5 bare -', '7 broken -', '8 empty -'], $this->kept());
        self::assertSame(['rows' => 5, 'known' => 0, 'asked' => 4, 'empty' => 2, 'failed' => 1, 'without' => 1], $run->lookup);
        self::assertSame(1, $run->rejects, 'what failed is still told');
    }

    public function test_several_columns_make_an_input_and_others_are_the_same_for_all(): void
    {
        $this->rowsAre([[1, 11, 'red'], [2, 12, 'blue']]);
        $this->read($this->lookup([], ['keep' => ['inputs' => ['number' => ['from' => ['table' => 'crates', 'column' => 'thing']], 'kind' => ['from' => ['table' => 'crates', 'text' => '{name}-{id}']], 'delay' => 1]]]));
        self::assertSame(['1 red 11 red-1', '2 blue 12 blue-2'], $this->kept());
    }

    public function test_only_new_changed_and_aged_rows_are_asked_again(): void
    {
        $this->rowsAre([[1, 11, 'red'], [2, 20, 'blue']]);
        $source = $this->lookup(['answers' => 'P1D']);
        $this->read($source);
        self::assertCount(3, $this->asked());
        $this->rowsAre([[1, 11, 'scarlet'], [2, 21, 'blue'], [3, 20, 'new']]);
        $run = $this->read($source);
        self::assertSame(['/things/21 1'], $this->asked());
        self::assertSame(['1 scarlet 11', '2 blue 21', '3 new 20.1', '3 new 20.2'], $this->kept());
        self::assertSame([2, 1], [$run->lookup['known'] ?? null, $run->lookup['asked'] ?? null]);
        // What has aged, and what somebody wants anew.
        DB::table('lookup_answers')->where('page', 1)->whereRaw('mark = (select mark from (select mark from lookup_answers order by id limit 1) as first)')->update(['asked_at' => now()->subDays(2)]);
        $this->read($source);
        self::assertCount(1, $this->asked());
        $this->read($source, new RunWish(whole: true));
        self::assertCount(4, $this->asked());
        // Another lookup that asks the same of the same source knows the answers.
        $other = $this->lookup(['answers' => 'P1D'], ['slug' => 'parts']);
        $this->read($other);
        self::assertSame([], $this->asked());
        // Without a time each refresh asks anew.
        $this->read($this->lookup());
        self::assertCount(4, $this->asked());
    }

    public function test_the_same_is_asked_once_however_far_apart_and_whether_it_failed_or_not(): void
    {
        $this->rowsAre(array_map(static fn (int $number): array => [$number, [11, 12, 13, 14, 15, 66][$number % 6], 'x'], range(1, 400)));
        $run = $this->read($this->lookup());
        self::assertSame(['/things/11 1', '/things/12 1', '/things/13 1', '/things/14 1', '/things/15 1', '/things/66 1'], $this->asked());
        self::assertSame(['rows' => 400, 'known' => 394, 'asked' => 6, 'empty' => 0, 'failed' => 133, 'without' => 0], $run->lookup);
        self::assertSame(267, $run->rows);
    }

    public function test_rows_that_failed_are_asked_again_alone(): void
    {
        $this->rowsAre([[1, 11, 'red'], [2, 13, 'green'], [3, 66, 'broken'], [4, 12, 'blue']]);
        $source = $this->lookup();
        self::assertSame(2, $this->read($source)->lookup['failed'] ?? null);
        $this->asked();
        $run = $this->read($source, new RunWish(failedRows: true));
        self::assertSame(['/things/13 1', '/things/66 1'], $this->asked());
        self::assertSame(['1 red 11', '4 blue 12'], $this->kept());
        self::assertSame(['rows' => 4, 'known' => 2, 'asked' => 2, 'empty' => 0, 'failed' => 2, 'without' => 0], $run->lookup);
    }

    public function test_rows_that_a_check_stopped_are_put_in_place_without_asking_for_all_of_them_again(): void
    {
        $this->rowsAre([[1, 11, 'red'], [2, 12, 'blue']]);
        $source = $this->lookup([], ['keep' => ['inputs' => ['number' => ['from' => ['table' => 'crates', 'column' => 'thing']]], 'checks' => [['rows' => ['at_least' => 3]]]]]);
        self::assertSame([RunState::Failed, 'check'], [($run = $this->read($source))->state, $run->diagnosis['code'] ?? null]);
        self::assertCount(2, $this->asked());
        $run = $this->read($source, new RunWish(takesAny: true));
        self::assertSame([RunState::Done, 2, []], [$run->state, $run->rows, $this->asked()]);
    }

    public function test_a_lookup_that_was_killed_goes_on_and_asks_little_again(): void
    {
        $this->rowsAre(array_map(static fn (int $number): array => [$number, 10 * $number + 1, 'x'], range(1, 300)));
        $source = $this->lookup([], ['keep' => ['inputs' => ['number' => ['from' => ['table' => 'crates', 'column' => 'thing']], 'delay' => 60]]]);
        $run = app(Runs::class)->ask($this->endpoint($source, 'parts'), $this->trial(), null);
        $script = 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\Contracts\Console\Kernel::class)->bootstrap(); app(App\Runs\Refresh::class)->run(App\Models\Run::query()->findOrFail('.$run->id.'));';
        $child = Child::start('refresh', [PHP_BINARY, '-r', $script], [], '/dev/null', base_path());
        // Late enough that something is safe: rows are committed, and answers written, every few seconds.
        for ($until = microtime(true) + 60; ($run->refresh()->pages < 60 || DB::table('lookup_answers')->count() === 0) && microtime(true) < $until; usleep(20_000));
        posix_kill($child->pid, SIGKILL);
        $child->stop(0);
        self::assertSame(RunState::Running, $run->refresh()->state, 'it was killed in the middle');
        self::assertSame(['crates'], array_values(array_filter($this->tablesInTrial(), static fn (string $name): bool => ! str_starts_with($name, 'stage_'))), 'nothing is in place');
        // The database has to notice that the connection is gone.
        for ($until = microtime(true) + 30; $run->refresh()->state === RunState::Running && microtime(true) < $until; usleep(100_000)) {
            app(Runs::class)->rescue();
        }
        self::assertSame(RunState::Queued, $run->state);
        $done = app(Refresh::class)->run($run);
        self::assertSame([RunState::Done, 300, 300, 2], [$done->state, $done->rows, $done->lookup['rows'] ?? null, $done->attempt], (string) json_encode($done->diagnosis));
        self::assertCount(300, $this->kept());
        $asked = array_count_values($this->asked());
        self::assertCount(300, $asked, 'each is asked for');
        self::assertSame([], array_filter($asked, static fn (int $times): bool => $times > 2));
        self::assertLessThan(300, count(array_filter($asked, static fn (int $times): bool => $times > 1)), 'and most of them once');
    }

    public function test_pages_of_the_list_that_it_was_do_not_make_its_table_and_old_answers_go(): void
    {
        $this->rowsAre([[1, 11, 'red']]);
        $list = $this->lookup([], ['keep' => ['inputs' => ['number' => 11]], 'flatten' => ['table' => 'parts', 'key' => ['part'], 'columns' => [['name' => 'part', 'from' => '$.part', 'type' => 'text']]]]);
        $run = $this->read($list);
        $pages = app(TableStore::class)->pages($this->trial(), $run->owner());
        self::assertNotNull($pages->about());
        $run = $this->read($this->lookup());
        self::assertSame([RunState::Done, null], [$run->state, $pages->about()], (string) json_encode($run->diagnosis));
        self::assertSame(1, DB::table('lookup_answers')->count());
        self::assertSame(0, LookupAnswers::tidy());
        $this->travel(2)->days();
        self::assertSame([1, 0], [LookupAnswers::tidy(), DB::table('lookup_answers')->count()]);
    }

    public function test_where_every_row_fails_the_source_is_not_asked_for_all_of_them(): void
    {
        touch("$this->folder/asked.log.down");
        $this->rowsAre(array_map(static fn (int $number): array => [$number, $number, 'x'], range(1, 300)));
        $run = $this->read($this->lookup());
        self::assertSame(RunState::Failed, $run->state);
        self::assertStringStartsWith('The first 20 rows all failed in the same way.', $run->diagnosis['what'] ?? '');
        self::assertLessThan(300, count($this->asked()));
        // What is wrong with the source itself ends it at once.
        $source = $this->draft("http://127.0.0.1:$this->port", [['scheme' => 'bearer', 'token' => ['secret' => 'token']]], $this->lookup()->current()->document['endpoints']);
        app(SourceStore::class)->publish($source, null);
        $run = $this->read($source->refresh());
        self::assertSame([RunState::Failed, 'secret', []], [$run->state, $run->diagnosis['code'] ?? null, $this->asked()]);
    }

    public function test_what_cannot_be_asked_for_is_said_before_anything_is_sent(): void
    {
        $source = $this->lookup();
        self::assertSame('The table crates, whose rows are asked for, is not kept in Trial. Keep it first.', $this->read($source)->diagnosis['what'] ?? null);
        $this->rowsAre([[1, 1, 'a']]);
        $source = $this->lookup([], ['keep' => ['inputs' => ['number' => ['from' => ['table' => 'crates', 'column' => 'thin']]]]]);
        self::assertSame('The table crates has no column "thin"; "thing" was probably meant.', $this->read($source)->diagnosis['what'] ?? null);
        self::assertSame([], $this->asked());
    }

    public function test_a_lookup_that_was_stopped_goes_on_after_the_row_it_had_got_to(): void
    {
        $this->rowsAre(array_map(static fn (int $number): array => [$number, 10 * $number + 1, 'x'], range(1, 120)));
        $source = $this->lookup([], ['keep' => ['inputs' => ['number' => ['from' => ['table' => 'crates', 'column' => 'thing']], 'delay' => 40]]]);
        config(['spring.limits.beat_seconds' => 0.1]);
        $run = app(Runs::class)->ask($this->endpoint($source, 'parts'), $this->trial(), null);
        $stopped = app(Refresh::class)->run($run, static function (Run $run): void {
            $run->pages < 10 || app(Runs::class)->stop($run, false);
        });
        self::assertSame(RunState::Stopped, $stopped->state);
        self::assertTrue($stopped->continuable);
        $rows = $stopped->lookup['rows'] ?? 0;
        self::assertSame("Stopped by hand after row $rows. The tables are as they were, and it can be run on from row ".($rows + 1).'.', $stopped->ended);
        self::assertLessThan(120, $rows);
        $before = count($this->asked());
        self::assertTrue(app(Runs::class)->goOn($stopped, false));
        $done = app(Refresh::class)->run($stopped->refresh());
        self::assertSame([RunState::Done, 120, 120], [$done->state, $done->rows, $done->lookup['rows'] ?? null], (string) json_encode($done->diagnosis));
        self::assertLessThanOrEqual(120 + 64, $before + count($this->asked()));
        self::assertCount(120, $this->kept());
        // Where the rows are others meanwhile, it begins anew, from answers that are known.
        $run = app(Runs::class)->ask($this->endpoint($source, 'parts'), $this->trial(), null);
        $stopped = app(Refresh::class)->run($run, static function (Run $run): void {
            $run->pages < 10 || app(Runs::class)->stop($run, false);
        });
        $this->rowsAre(array_map(static fn (int $number): array => [$number - 50, 10 * $number + 1, 'y'], range(1, 120)));
        app(Runs::class)->goOn($stopped, false);
        $done = app(Refresh::class)->run($stopped->refresh());
        self::assertSame([RunState::Done, 120, '-49 y 11'], [$done->state, $done->rows, $this->kept()[0]], (string) json_encode($done->diagnosis));
        self::assertGreaterThanOrEqual(10, $done->lookup['known'] ?? 0);
    }
}
