<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Ports;
use App\Models\KeptTable;
use App\Models\Role;
use App\Models\Run;
use App\Models\RunState;
use App\Models\Source;
use App\Models\TableState;
use App\Reservoir\ReaderAccounts;
use App\Reservoir\TableHistory;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Runs\StatesOfTable;
use App\Runs\TableRemoval;
use App\Sources\SourceStore;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Lane;

/**
 * Earlier states of tables, held against what the tables were when they were read.
 */
final class HistoryTest extends AppTestCase
{
    private ?Child $server = null;

    private string $plan = '';

    private string $base = '';

    protected function setUp(): void
    {
        parent::setUp();
        $this->plan = (string) tempnam(sys_get_temp_dir(), 'history');
        file_put_contents($this->plan, json_encode(['seed' => 7]));
        $port = Lane::ports(9160)->web;
        $this->allow($port);
        $this->base = "http://127.0.0.1:$port";
        $this->server = Child::start('list', [PHP_BINARY, '-S', "127.0.0.1:$port", __DIR__.'/ChangingServer.php'], ['CHANGING_PLAN' => $this->plan], '/dev/null', base_path());
        Ports::await($port, 'The list');
    }

    protected function tearDown(): void
    {
        Carbon::setTestNow();
        $this->server?->stop(1);
        array_map(unlink(...), (array) glob("{$this->plan}*"));
        parent::tearDown();
    }

    private function edit(int $count): void
    {
        file_get_contents("{$this->base}/?edits=$count");
    }

    /**
     * @param  array<string, mixed>  $history
     * @param  array<string, mixed>  $more  of keep
     */
    private function list(array $history, array $more = []): Source
    {
        $source = $this->draft($this->base, [], [[
            'slug' => 'crates', 'name' => 'Crates', 'ask' => ['path' => '/crates'], 'answer' => ['records' => '$.records[*]'],
            'onward' => ['style' => 'offset', 'send_as' => 'offset', 'size' => 25, 'size_as' => 'limit', 'total' => '$.total'],
            'flatten' => [
                'table' => 'crates', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'name', 'from' => '$.name'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'], ['name' => 'deleted', 'from' => '$.deleted', 'type' => 'boolean']],
                'branches' => [['table' => 'crate_lines', 'from' => '$.lines[*]', 'key' => ['crate', 'line'], 'columns' => [['name' => 'crate', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'line', 'from' => '$.line', 'type' => 'integer'], ['name' => 'what', 'from' => '$.what']]]],
            ],
            'keep' => ['history' => $history] + $more,
        ]]);
        app(SourceStore::class)->publish($source, null);

        return $source->refresh();
    }

    private function read(Source $source, bool $whole = false): Run
    {
        $run = app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'crates'), $this->trial(), null, new RunWish(whole: $whole)));
        self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));

        return $run;
    }

    /**
     * @return array<string, array<string, string|null>> key → row
     */
    private function table(string $name, string $where = 'true'): array
    {
        $columns = str_starts_with($name, 'crates') ? 'id, name, changed, deleted' : 'crate, line, what';
        $rows = [];
        foreach ($this->rows("select $columns from `$name` where $where") as $row) {
            $row = array_map(static fn (mixed $value): ?string => $value === null ? null : (string) $value, get_object_vars($row));
            $rows[$row['id'] ?? "$row[crate] $row[line]"] = $row;
        }
        ksort($rows);

        return $rows;
    }

    /**
     * @return iterable<string, array{bool, bool}> versions, incremental
     */
    public static function ways(): iterable
    {
        yield 'states, all of it' => [false, false];
        yield 'states, only what changed' => [false, true];
        yield 'versions, all of it' => [true, false];
        yield 'versions, only what changed' => [true, true];
    }

    #[DataProvider('ways')]
    public function test_every_state_is_there_as_it_was_and_the_differences_are_those_counted_by_hand(bool $versions, bool $incremental): void
    {
        $this->edit(60);
        $source = $this->list($versions ? ['changes' => true] : ['snapshots' => 4], $incremental ? ['refresh' => ['mode' => 'incremental', 'since' => ['column' => 'changed', 'send_as' => 'since', 'overlap' => 'PT5S'], 'deleted' => ['column' => 'deleted']]] : []);
        $seen = [];
        for ($time = 0; $time < 6; $time++) {
            $this->edit($time === 3 ? 0 : 25);
            $this->read($source, $time === 4);
            $at = KeptTable::query()->where('name', 'crates')->firstOrFail()->refreshed_at->format('Y-m-d H:i:s.u');
            $seen[$at] = ['crates' => $this->table('crates'), 'crate_lines' => $this->table('crate_lines')];
            usleep(10_000);
        }
        foreach (['crates', 'crate_lines'] as $name) {
            $table = KeptTable::query()->with('environment')->where('name', $name)->firstOrFail();
            $states = new StatesOfTable($table, app(TableHistory::class));
            $picks = $versions ? array_combine(array_keys($seen), array_keys($seen)) : [];
            if (! $versions) {
                foreach ($states->snapshots as $state) {
                    $picks[$state->state_at->format('Y-m-d H:i:s.u')] = $state->name;
                    self::assertCount($state->rows, $this->table($state->name));
                    self::assertSame($seen[$state->state_at->format('Y-m-d H:i:s.u')][$name], $this->table($state->name), "$name of {$state->state_at}");
                    self::assertGreaterThan(0, $states->bytes[$state->name]);
                }
                self::assertSame(array_reverse(array_keys($picks)), array_slice(array_keys(array_filter($seen, static fn (string $at): bool => isset($picks[$at]), ARRAY_FILTER_USE_KEY)), -4), 'the last ones');
                self::assertCount(4, $picks);
            }
            foreach ($versions ? $seen : [] as $at => $tables) {
                self::assertSame($tables[$name], $this->table("{$name}__changes", "valid_from <= '$at' and (valid_to is null or valid_to > '$at')"), "$name at $at");
            }
            $this->assertComparisonsAreTrue($states, $picks, $seen, $name);
        }
        self::assertSame([], array_filter($this->tablesInTrial(), static fn (string $one): bool => str_starts_with($one, 'stage__')));
    }

    /**
     * @param  array<string, string>  $picks
     * @param  array<string, array<string, array<string, array<string, string|null>>>>  $seen
     */
    private function assertComparisonsAreTrue(StatesOfTable $states, array $picks, array $seen, string $name): void
    {
        $last = (string) array_key_last($seen);
        foreach ($picks as $at => $pick) {
            [$before, $after] = [$seen[$at][$name], $seen[$last][$name]];
            $found = app(TableHistory::class)->compare($states->table->environment, $states->pick($pick) ?? self::fail(), $states->pick('now') ?? self::fail(), 1000, 30);
            $changed = array_filter(array_intersect_key($after, $before), static fn (array $row, int|string $key): bool => $row !== $before[$key], ARRAY_FILTER_USE_BOTH);
            self::assertSame([count($before), count($after), count(array_diff_key($after, $before)), count(array_diff_key($before, $after)), count($changed)], [$found->before, $found->after, $found->came, $found->went, $found->changed], "$name from $at");
            self::assertCount($found->came, $found->rowsCame);
            self::assertCount($found->went, $found->rowsWent);
            foreach ($found->rowsChanged as $row) {
                $key = implode(' ', $row['key']);
                self::assertSame(array_filter(array_combine(array_keys($after[$key]), array_map(null, $before[$key], $after[$key])), static fn (array $pair): bool => $pair[0] !== $pair[1]), $row['values']);
            }
            foreach ($found->columns as $one) {
                self::assertCount($one->rows, array_filter($changed, static fn (array $row, int|string $key): bool => $row[$one->column] !== $before[$key][$one->column], ARRAY_FILTER_USE_BOTH));
            }
        }
    }

    public function test_an_increment_that_brought_nothing_leaves_no_state(): void
    {
        $this->edit(40);
        $source = $this->list(['snapshots' => 5], ['refresh' => ['mode' => 'incremental', 'since' => ['column' => 'changed', 'send_as' => 'since']]]);
        $this->read($source);
        $this->read($source);
        $this->read($source);
        self::assertSame([], TableState::query()->pluck('name')->all());
        self::assertSame(['crate_lines', 'crates'], $this->tablesInTrial());
    }

    public function test_people_query_them_and_cannot_any_more_when_they_are_given_up(): void
    {
        $this->edit(40);
        $source = $this->list(['snapshots' => 5]);
        $this->read($source);
        $this->read($source);
        $name = TableState::query()->where('table', 'crates')->sole()->name;
        $analyst = $this->person(Role::Analyst);
        $count = fn (): int => (int) app(ReaderAccounts::class)->connect($analyst, $this->trial(), 5)->query("select count(*) from `$name`")->fetchColumn();
        self::assertSame(count($this->table('crates')), $count());
        $this->actingAs($analyst)->get('/tables/crates/history')->assertOk()->assertSee($name)->assertSee('The two are the same')->assertDontSee('Give it up');
        $this->delete('/tables/crates/history')->assertForbidden();
        $this->actingAs($this->person())->get('/tables/crates')->assertSee('1 earlier state');
        $this->get('/tables/crates/history?from=nowhere&to=now')->assertSee('There is no such state');
        $this->followingRedirects()->delete('/tables/crates/history')->assertOk()->assertSee('are gone')->assertSee('Nothing stays of crates');
        self::assertNotContains($name, $this->tablesInTrial());
        self::assertNotEmpty(array_filter($this->tablesInTrial(), static fn (string $one): bool => str_starts_with($one, 'crate_lines__')), 'that of the other table stays');
        $this->expectException(\PDOException::class);
        $count();
    }

    public function test_no_other_table_can_have_the_name_of_a_state(): void
    {
        $this->edit(40);
        $source = $this->list(['changes' => true]);
        $this->read($source);
        $before = $this->table('crates__changes');
        $other = $this->source('stores', ['table: positions' => 'table: crates__changes']);
        $run = $this->refresh($other, 'positions');
        self::assertSame(RunState::Done, $run->state);
        self::assertSame(['crates_changes'], KeptTable::query()->where('endpoint_id', $run->endpoint_id)->pluck('name')->all());
        self::assertSame($before, $this->table('crates__changes'));
        // One that is gone in the moment somebody asks keeps nobody from asking.
        TableState::query()->create(['name' => 'crates__20290101_000000', 'kind' => 'snapshot', 'ready' => true, 'rows' => 0, 'columns' => [], 'key' => [], 'state_at' => now()] + TableState::query()->firstOrFail()->only(['environment_id', 'endpoint_id', 'table']));
        self::assertSame('1', (string) app(ReaderAccounts::class)->connect($this->person(Role::Analyst), $this->trial(), 5)->query('select 1')->fetchColumn());
    }

    public function test_when_the_table_is_given_up_so_is_its_history(): void
    {
        $this->edit(40);
        foreach ([['snapshots' => 2], ['changes' => true]] as $history) {
            $source = $this->list($history);
            $this->read($source);
            $this->read($source);
            self::assertGreaterThan(2, count($this->tablesInTrial()));
            app(TableRemoval::class)->remove($this->endpoint($source, 'crates'), $this->trial());
            self::assertSame([[], 0], [$this->tablesInTrial(), TableState::query()->count()]);
            $source->delete();
        }
    }

    public function test_what_a_dead_process_left_is_settled(): void
    {
        $this->edit(40);
        $source = $this->list(['snapshots' => 5]);
        $this->read($source);
        $before = $this->table('crates');
        $this->edit(20);
        // It had put the new tables in place, and not come to say so.
        $this->read($source);
        $ready = TableState::query()->where('table', 'crates')->sole();
        $ready->update(['ready' => false, 'until' => null]);
        // Another had announced one and got no further.
        TableState::query()->create(['name' => 'crates__20290101_000000', 'state_at' => '2029-01-01 00:00:00', 'ready' => false] + $ready->only(['environment_id', 'endpoint_id', 'table', 'kind', 'run_id', 'rows', 'columns', 'key']) + ['replaced_by' => 999999]);
        $this->edit(20);
        $this->read($source);
        self::assertSame($before, $this->table($ready->name));
        self::assertTrue($ready->refresh()->ready);
        self::assertSame(2, TableState::query()->where('table', 'crates')->count());
        // Its endpoint is deleted, and with it what is known of the states.
        $source->delete();
        Artisan::call('spring:tidy');
        self::assertSame([], array_filter($this->tablesInTrial(), static fn (string $one): bool => str_contains($one, '__2')));
    }

    public function test_a_version_that_an_earlier_run_did_not_come_to_write_down_is_written_down(): void
    {
        $this->edit(40);
        $source = $this->list(['changes' => true]);
        $this->read($source);
        $this->edit(20);
        $this->read($source);
        // As if the process had died between putting rows in place and comparing them.
        $at = KeptTable::query()->where('name', 'crates')->firstOrFail()->refreshed_at->format('Y-m-d H:i:s.u');
        $middle = $this->table('crates');
        $this->rows('select 1');
        DB::connection('keeper')->delete("delete from crates__changes where valid_from = '$at'");
        DB::connection('keeper')->update("update crates__changes set valid_to = null where valid_to = '$at'");
        TableState::query()->update(['run_id' => Run::query()->min('id')]);
        $this->edit(20);
        $this->read($source);
        self::assertSame($middle, $this->table('crates__changes', "valid_from <= '$at' and (valid_to is null or valid_to > '$at')"));
    }

    public function test_what_cannot_be_written_down_leaves_the_refresh_done_and_is_written_down_by_the_next(): void
    {
        $this->edit(40);
        $source = $this->list(['changes' => true]);
        $this->read($source);
        $this->edit(20);
        $this->rows('select 1');
        DB::connection('keeper')->statement("create trigger refuse before insert on crates__changes for each row signal sqlstate '45000' set message_text = 'the shelf is full'");
        $run = $this->read($source);
        self::assertStringContainsString('The new rows are in place. The state before them could not be written down', implode(' ', $run->events()->pluck('text')->all()));
        $at = KeptTable::query()->where('name', 'crates')->firstOrFail()->refreshed_at->format('Y-m-d H:i:s.u');
        $middle = $this->table('crates');
        DB::connection('keeper')->statement('drop trigger refuse');
        $this->edit(20);
        $this->read($source);
        self::assertSame($middle, $this->table('crates__changes', "valid_from <= '$at' and (valid_to is null or valid_to > '$at')"));
    }

    public function test_versions_that_were_announced_and_not_made_are_made_by_the_next_refresh(): void
    {
        $this->edit(40);
        $source = $this->list(['changes' => true]);
        $this->read($source);
        $this->rows('select 1');
        DB::connection('keeper')->statement('drop table crates__changes');
        TableState::query()->where('table', 'crates')->update(['ready' => false, 'run_id' => null]);
        $this->actingAs($this->person())->get('/tables/crates/history')->assertOk()->assertSee('Nothing stays of crates');
        $this->read($source);
        self::assertSame($this->table('crates'), $this->table('crates__changes', 'valid_to is null'));
        self::assertSame(['crates__changes'], TableState::query()->where('table', 'crates')->pluck('name')->all());
    }

    public function test_limits_are_kept(): void
    {
        $this->edit(40);
        $source = $this->list(['snapshots' => 10, 'rows' => 100, 'days' => 5]);
        foreach (range(1, 6) as $time) {
            $this->edit(5);
            $this->read($source);
        }
        self::assertLessThanOrEqual(100, TableState::query()->where('table', 'crates')->sum('rows'));
        self::assertGreaterThan(0, TableState::query()->where('table', 'crates')->count());
        self::assertSame(TableState::query()->where('table', 'crates')->count(), count(array_filter($this->tablesInTrial(), static fn (string $one): bool => str_starts_with($one, 'crates__'))));
        TableState::query()->update(['until' => now()->subDays(6)]);
        $this->read($source);
        self::assertSame(1, TableState::query()->where('table', 'crates')->count(), 'the one that was replaced now');
    }

    public function test_versions_that_ended_long_ago_or_are_too_many_go_and_the_present_ones_stay(): void
    {
        $this->edit(60);
        $source = $this->list(['changes' => true, 'rows' => 70]);
        foreach (range(1, 5) as $time) {
            $this->edit(40);
            $this->read($source);
        }
        $present = $this->table('crates');
        self::assertSame($present, $this->table('crates__changes', 'valid_to is null'));
        self::assertSame(max(70, count($present)), (int) $this->rows('select count(*) n from crates__changes')[0]->n);
        [$gone, $left] = app(TableHistory::class)->thin($this->trial(), 'crates__changes', Carbon::now()->addDay(), 1000);
        self::assertSame([max(0, 70 - count($present)), count($present)], [$gone, $left]);
    }

    public function test_columns_and_keys_that_change_lose_nothing(): void
    {
        $this->edit(60);
        $source = $this->list(['changes' => true]);
        $this->read($source);
        $edit = function (\Closure $how) use ($source): void {
            app(SourceStore::class)->edit($source->refresh(), null, static function (array $document) use ($how): array {
                $document['endpoints'][0]['flatten'] = $how($document['endpoints'][0]['flatten']);

                return $document;
            });
            app(SourceStore::class)->publish($source->refresh(), null);
            $this->read($source->refresh());
        };
        $versions = fn (): int => (int) $this->rows('select count(*) n from crates__changes')[0]->n;
        $before = $versions();
        // A column is added: every row has another version.
        $edit(static fn (array $flatten): array => ['columns' => [...$flatten['columns'], ['name' => 'lines', 'from' => '$.lines', 'type' => 'json']]] + $flatten);
        self::assertSame(2 * $before, $versions());
        // One is left out: what it held before stays.
        $edit(static fn (array $flatten): array => ['columns' => array_values(array_filter($flatten['columns'], static fn (array $one): bool => $one['name'] !== 'name'))] + $flatten);
        self::assertSame([2 * $before, 2 * $before], [$versions(), (int) $this->rows('select count(name) n from crates__changes')[0]->n]);
        // A type that cannot hold what was: other versions begin, these stay.
        $edit(static fn (array $flatten): array => ['columns' => array_map(static fn (array $one): array => $one['name'] === 'deleted' ? ['name' => 'deleted', 'from' => '$.deleted'] : $one, $flatten['columns'])] + $flatten);
        self::assertSame(2 * $before, $versions());
        self::assertSame($before, (int) $this->rows('select count(*) n from crates__changes_2')[0]->n);
        $this->actingAs($this->person())->get('/tables/crates/history')->assertOk()->assertSee('crates__changes_2')->assertSee('versions of before');
    }

    public function test_a_table_without_a_key_is_compared_as_two_heaps(): void
    {
        $this->edit(30);
        $source = $this->list(['snapshots' => 2]);
        app(SourceStore::class)->edit($source, null, static function (array $document): array {
            unset($document['endpoints'][0]['flatten']['key'], $document['endpoints'][0]['flatten']['branches']);
            $document['endpoints'][0]['flatten']['columns'] = [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'name', 'from' => '$.name']];

            return $document;
        });
        app(SourceStore::class)->publish($source->refresh(), null);
        $this->read($source->refresh());
        $rows = static fn (array $rows): array => array_map(static fn (object $row): string => "$row->id $row->name", $rows);
        $before = $rows($this->rows('select * from crates'));
        $this->edit(20);
        $this->read($source);
        $after = $rows($this->rows('select * from crates'));
        $states = new StatesOfTable(KeptTable::query()->with('environment')->where('name', 'crates')->firstOrFail(), app(TableHistory::class));
        $found = app(TableHistory::class)->compare($this->trial(), $states->pick($states->usual()[0] ?? '') ?? self::fail(), $states->pick('now') ?? self::fail(), 50, 30);
        self::assertSame([count(array_diff($after, $before)), count(array_diff($before, $after)), null], [$found->came, $found->went, $found->changed]);
        $this->actingAs($this->person())->get('/tables/crates/history')->assertOk()->assertSee('has no key that both have');
        $this->expectExceptionMessage('The table crates has no key');
        app(SourceStore::class)->edit($source->refresh(), null, static function (array $document): array {
            $document['endpoints'][0]['keep']['history'] = ['changes' => true];

            return $document;
        });
    }

    public function test_the_command_line_lists_compares_and_gives_up(): void
    {
        $this->edit(40);
        $source = $this->list(['snapshots' => 3]);
        $this->read($source);
        $this->edit(30);
        $this->read($source);
        self::assertSame(0, Artisan::call('spring:history', ['table' => 'crates']));
        $name = strtok(Artisan::output(), "\t");
        self::assertStringStartsWith('crates__', (string) $name);
        self::assertSame(0, Artisan::call('spring:history', ['table' => 'crates', '--compare' => "$name..now"]));
        $lines = array_count_values(array_map(static fn (string $line): string => (string) strtok($line, "\t"), array_filter(explode("\n", Artisan::output()))));
        self::assertGreaterThan(0, $lines['changed'] ?? 0);
        self::assertSame(2, Artisan::call('spring:history', ['table' => 'crates', '--compare' => 'then..now']));
        self::assertSame(2, Artisan::call('spring:history', ['table' => 'nothing']));
        self::assertSame(0, Artisan::call('spring:history', ['table' => 'crates', '--forget' => true]));
        self::assertSame(0, TableState::query()->where('table', 'crates')->count());
    }

    public function test_the_sheet_says_what_stays(): void
    {
        $source = $this->list(['snapshots' => 3]);
        $this->actingAs($this->person());
        $path = '/sources/here/endpoints/crates';
        $kept = fn (): mixed => $source->refresh()->current()->endpoint('crates')?->endpoint['keep']['history'] ?? null;
        $fields = fn (): array => $this->fields((string) $this->get($path)->assertOk()->getContent(), 'sheet-form');
        self::assertSame(['kind' => 'snapshots', 'snapshots' => '3', 'days' => '', 'rows' => ''], $fields()['history']);
        $this->post($path, $fields());
        self::assertSame(['snapshots' => 3], $kept(), 'what nobody touched stays');
        $this->post($path, array_replace_recursive($fields(), ['history' => ['snapshots' => '12', 'days' => '30']]))->assertOk();
        self::assertSame(['snapshots' => 12, 'days' => 30], $kept());
        $this->post($path, array_replace_recursive($fields(), ['history' => ['days' => 'ever']]))->assertOk()->assertSee('faults-keep')->assertSee('days');
        self::assertSame(['snapshots' => 12, 'days' => 30], $kept(), 'what cannot be is told, and not kept');
        $this->post($path, array_replace_recursive($fields(), ['history' => ['kind' => 'changes', 'days' => '30'], 'do' => 'reshape']))->assertOk()->assertSee('valid_from');
        self::assertSame(['changes' => true, 'days' => 30], $kept());
        $this->post($path, array_replace_recursive($fields(), ['history' => ['kind' => 'none']]));
        self::assertNull($kept());
    }
}
