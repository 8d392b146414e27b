<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Ports;
use App\Models\IncrementMark;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\Source;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Runs\RunWish;
use App\Secrets\Vault;
use App\Sources\SourceStore;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use PHPUnit\Framework\Attributes\DataProvider;
use Tests\Lane;

/**
 * Reading only what changed, from a list that changes while it is read.
 */
final class IncrementsTest extends AppTestCase
{
    private ?Child $server = null;

    private string $plan = '';

    private string $base = '';

    protected function tearDown(): void
    {
        Carbon::setTestNow();
        $this->server?->stop(1);
        array_map(unlink(...), (array) glob("{$this->plan}*"));
        parent::tearDown();
    }

    /**
     * @param  array<string, mixed>  $plan
     */
    private function serve(array $plan): void
    {
        $this->plan = (string) tempnam(sys_get_temp_dir(), 'changing');
        $this->plan($plan);
        $port = Lane::ports(9100)->web;
        $this->allow($port);
        $this->base = "http://127.0.0.1:$port";
        $this->server = Child::start('list', [PHP_BINARY, '-S', "127.0.0.1:$port", __DIR__.'/ChangingServer.php'], ['CHANGING_PLAN' => $this->plan], '/dev/null', base_path());
        Ports::await($port, 'The list');
    }

    /**
     * @param  array<string, mixed>  $plan
     */
    private function plan(array $plan): void
    {
        file_put_contents("{$this->plan}.new", json_encode($plan));
        rename("{$this->plan}.new", $this->plan);
    }

    private function edit(int $count): void
    {
        file_get_contents("{$this->base}/?edits=$count");
    }

    /**
     * @return array<string, mixed>
     */
    private function state(): array
    {
        return json_decode((string) file_get_contents("{$this->plan}.state"), true);
    }

    /**
     * @param  array<string, mixed>  $refresh
     */
    private function list(array $refresh): Source
    {
        $source = $this->draft($this->base, [], [[
            'slug' => 'crates', 'name' => 'Crates', 'ask' => ['path' => '/crates'], 'answer' => ['records' => '$.records[*]'],
            'onward' => ['style' => 'offset', 'send_as' => 'offset', 'size' => 25, 'size_as' => 'limit', 'total' => '$.total'],
            'flatten' => [
                'table' => 'crates', 'key' => ['id'],
                'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer'], ['name' => 'name', 'from' => '$.name'], ['name' => 'changed', 'from' => '$.changed', 'type' => 'datetime'], ['name' => 'deleted', 'from' => '$.deleted', 'type' => 'boolean']],
                'branches' => [['table' => 'crate_lines', 'from' => '$.lines[*]', 'key' => ['crate', 'line'], 'columns' => [['name' => 'crate', 'parent' => '$.id', 'type' => 'integer'], ['name' => 'line', 'from' => '$.line', 'type' => 'integer'], ['name' => 'what', 'from' => '$.what']]]],
            ],
            'keep' => ['refresh' => ['mode' => 'incremental'] + $refresh],
        ]]);
        app(SourceStore::class)->publish($source, null);

        return $source->refresh();
    }

    private function read(Source $source, bool $whole = false): Run
    {
        return app(Refresh::class)->run(app(Runs::class)->ask($this->endpoint($source, 'crates'), $this->trial(), null, new RunWish(whole: $whole)));
    }

    /**
     * The tables as they should be, and as they are.
     */
    private function assertTrueToTheList(string $message): void
    {
        $crates = $lines = [];
        foreach ($this->state()['records'] as $one) {
            if (! $one['deleted']) {
                $crates[] = "{$one['id']} {$one['name']} ".str_replace(['T', 'Z'], [' ', '.000000'], $one['changed']);
                array_push($lines, ...array_map(static fn (array $line): string => "{$one['id']} {$line['line']} {$line['what']}", $one['lines']));
            }
        }
        $is = static fn (array $rows): array => array_map(static fn (object $row): string => (string) $row->r, $rows);
        sort($crates);
        sort($lines);
        $kept = $is($this->rows("select concat_ws(' ', id, name, changed) r from crates"));
        $keptLines = $is($this->rows("select concat_ws(' ', crate, line, what) r from crate_lines"));
        sort($kept);
        sort($keptLines);
        self::assertSame($crates, $kept, $message);
        self::assertSame($lines, $keptLines, $message);
        self::assertSame([count($crates), count($lines)], [KeptTable::query()->where('name', 'crates')->value('rows'), KeptTable::query()->where('name', 'crate_lines')->value('rows')], 'the counts are those of the tables');
    }

    /**
     * @return iterable<string, array{array<string, mixed>, int}>
     */
    public static function lists(): iterable
    {
        yield 'in the order of their numbers' => [[], 0];
        yield 'the newest first' => [['newest_first' => true], 0];
        yield 'our clock seven minutes ahead' => [[], 7];
        yield 'our clock seven minutes behind, the newest first' => [['newest_first' => true], -7];
    }

    /**
     * @param  array<string, mixed>  $plan
     */
    #[DataProvider('lists')]
    public function test_increments_give_the_table_that_reading_everything_gives(array $plan, int $minutes): void
    {
        $seed = (int) (getenv('SPRING_SEED') ?: random_int(1, 1_000_000));
        $this->serve($plan + ['seed' => $seed, 'edits' => 0]);
        $this->edit(150);
        Carbon::setTestNow($minutes === 0 ? null : Carbon::now()->addMinutes($minutes));
        $source = $this->list(['since' => ['column' => 'changed', 'send_as' => 'since', 'overlap' => 'PT2S'], 'deleted' => ['column' => 'deleted']]);
        // The list changes before each of its pages.
        $this->plan($plan + ['seed' => $seed, 'edits' => 4]);
        $first = $this->read($source);
        self::assertSame(RunState::Done, $first->state, (string) json_encode($first->diagnosis));
        self::assertNull($first->changes);
        $increments = 0;
        for ($round = 0; $round < 8; $round++) {
            $this->edit(15);
            $run = $this->read($source);
            self::assertSame(RunState::Done, $run->state, (string) json_encode($run->diagnosis));
            $increments += $run->changes === null ? 0 : 1;
        }
        self::assertSame(8, $increments, "seed $seed");
        $this->plan($plan + ['seed' => $seed, 'edits' => 0]);
        $last = $this->read($source);
        $this->assertTrueToTheList("seed $seed");
        self::assertMatchesRegularExpression('/^\d+ changed, \d+ new, \d+ gone of \d+ rows?, in \d+ pages?\./u', (string) $last->ended);
        self::assertGreaterThan(250, $this->state()['edits']);
        // Reading all of it changes nothing.
        $whole = $this->read($source, true);
        self::assertSame(['new' => 0, 'changed' => 0, 'gone' => 0, 'same' => 0, 'older' => 0], $whole->changes);
        $this->assertTrueToTheList("seed $seed, all of it");
    }

    public function test_an_increment_asks_for_little_and_says_what_it_found(): void
    {
        $this->serve(['seed' => 5, 'edits' => 0]);
        $this->edit(300);
        $state = $this->state();
        foreach ($state['records'] as &$one) {
            $one['changed'] = gmdate('Y-m-d\TH:i:s\Z', time() - 3600);
        }
        file_put_contents("{$this->plan}.state", json_encode($state));
        $source = $this->list(['since' => ['column' => 'changed', 'send_as' => 'since'], 'deleted' => ['column' => 'deleted']]);
        $whole = $this->read($source);
        self::assertGreaterThan(3, $whole->pages);
        $mark = IncrementMark::query()->firstOrFail();
        self::assertStringNotContainsString(gmdate('Y'), $mark->mark, 'the mark is sealed');
        $this->edit(3);
        $run = $this->read($source);
        // With the second at which all were changed, which is asked for again.
        self::assertSame($whole->pages, $run->pages);
        self::assertSame(['ignored'], array_column($run->findings ?? [], 'code'));
        self::assertStringContainsString('came again as they were, as if since said nothing to the service', (string) json_encode($run->findings));
        $run = $this->read($source);
        self::assertSame([1, null], [$run->pages, $run->findings]);
        self::assertNotNull($run->changes);
        $begins = (string) RunEvent::query()->where('run_id', $run->id)->where('kind', 'begins')->value('text');
        self::assertMatchesRegularExpression('/^Asks Here for what changed: since=\d{4}-\d\d-\d\dT\d\d:\d\d:\d\dZ\.$/', $begins);
        $this->assertTrueToTheList('after three edits');
    }

    public function test_a_state_that_comes_late_does_not_bring_an_old_one_back(): void
    {
        $this->serve(['seed' => 6, 'edits' => 0]);
        $this->edit(60);
        $source = $this->list(['since' => ['column' => 'changed', 'send_as' => 'since', 'overlap' => 'PT1H']]);
        $this->read($source);
        // What is kept is newer than what the service says, as after an answer of a copy that lags behind.
        $this->rows('select 1');
        \Illuminate\Support\Facades\DB::connection('keeper')->statement("update crates set changed = '2037-01-01', name = 'newer' where id = 3");
        $lines = count($this->rows('select 1 from crate_lines where crate = 3'));
        $run = $this->read($source);
        self::assertSame(1, $run->changes['older'] ?? null);
        self::assertSame('newer', $this->rows('select name from crates where id = 3')[0]->name);
        self::assertCount($lines, $this->rows('select 1 from crate_lines where crate = 3'));
        self::assertStringContainsString('1 record came in an older state than is kept, and was left out.', (string) $run->ended);
    }

    public function test_a_key_that_grows_brings_new_records_alone(): void
    {
        $this->serve(['seed' => 7, 'edits' => 0]);
        $this->edit(40);
        $source = $this->list(['since' => ['column' => 'id', 'send_as' => 'above']]);
        $this->read($source);
        $this->edit(60);
        $run = $this->read($source);
        self::assertSame([0, 0], [$run->changes['changed'] ?? null, $run->changes['gone'] ?? null]);
        self::assertGreaterThan(0, $run->changes['new'] ?? 0);
        self::assertSame(count($this->state()['records']), (int) $this->rows('select count(*) n from crates')[0]->n);
    }

    public function test_a_marker_is_sent_as_it_was_handed_out(): void
    {
        $this->serve(['seed' => 8, 'edits' => 0]);
        $this->edit(30);
        $source = $this->list(['since' => ['marker' => '$.marker', 'send_as' => 'marker']]);
        $this->read($source);
        $before = $this->state()['requests'];
        $run = $this->read($source);
        self::assertStringContainsString("for what changed: marker=m$before.", (string) RunEvent::query()->where('run_id', $run->id)->where('kind', 'begins')->value('text'));
        $run = $this->read($source);
        self::assertStringContainsString('for what changed: marker=m'.($before + $run->pages).'.', (string) RunEvent::query()->where('run_id', $run->id)->where('kind', 'begins')->value('text'));
    }

    public function test_everything_is_read_where_an_increment_would_not_do(): void
    {
        $this->serve(['seed' => 9, 'edits' => 0]);
        $this->edit(60);
        $source = $this->list(['since' => ['column' => 'changed', 'send_as' => 'since']]);
        $isWhole = fn (bool $asked = false): bool => ! str_contains((string) RunEvent::query()->where('run_id', $this->read($source, $asked)->id)->where('kind', 'begins')->value('text'), 'for what changed');
        self::assertSame([true, false, true, false], [$isWhole(), $isWhole(), $isWhole(true), $isWhole()]);
        // Something else is asked for, or becomes of it.
        app(SourceStore::class)->edit($source, null, static function (array $document): array {
            $document['endpoints'][0]['flatten']['columns'][] = ['name' => 'label', 'from' => '$.name'];

            return $document;
        });
        app(SourceStore::class)->publish($source->refresh(), null);
        $source = $source->refresh();
        self::assertSame([true, false], [$isWhole(), $isWhole()]);
        // The tables are gone.
        KeptTable::query()->delete();
        self::assertTrue($isWhole());
        // The same record twice in one answer cannot be told apart.
        $mark = IncrementMark::query()->firstOrFail();
        self::assertNotNull(app(Vault::class)->unseal($mark->mark));
    }

    public function test_deleted_records_that_nobody_lists_go_when_all_of_it_is_read(): void
    {
        $this->serve(['seed' => 10, 'edits' => 0]);
        $this->edit(60);
        $source = $this->list(['since' => ['column' => 'changed', 'send_as' => 'since']]);
        $this->read($source);
        $state = $this->state();
        unset($state['records'][2], $state['records'][5]);
        file_put_contents("{$this->plan}.state", json_encode($state));
        $this->read($source);
        self::assertCount(2, $this->rows('select 1 from crates where id in (2, 5)'), 'an increment does not see it');
        $sweep = $this->read($source, true);
        self::assertSame([], $this->rows('select 1 from crates where id in (2, 5)'));
        self::assertSame('Since the last increment 2 records are gone at the source and 0 are new.', RunEvent::query()->where('run_id', $sweep->id)->where('kind', 'sweep')->value('text'));
    }

    /**
     * @return iterable<string, array{bool, bool}> whether all of it is read, whether the process dies or its connections do
     */
    public static function ends(): iterable
    {
        yield 'an increment, its process killed' => [false, true];
        yield 'an increment, the database away for a moment' => [false, false];
        yield 'a sweep, its process killed' => [true, true];
        yield 'a sweep, the database away for a moment' => [true, false];
    }

    #[DataProvider('ends')]
    public function test_what_is_cut_off_is_read_again_or_gone_on_with_and_nothing_is_half_applied(bool $whole, bool $isKilled): void
    {
        $this->serve(['seed' => 11, 'edits' => 0]);
        $this->edit(400);
        $source = $this->list(['since' => ['column' => 'changed', 'send_as' => 'since', 'overlap' => 'P1D'], 'deleted' => ['column' => 'deleted']]);
        $this->read($source);
        $this->edit(60);
        $count = (string) $this->rows("select concat(count(*), ' ', sum(crc32(name))) n from crates")[0]->n;
        $run = app(Runs::class)->ask($this->endpoint($source, 'crates'), $this->trial(), null, new RunWish(whole: $whole));
        $ids = "{$this->plan}.ids";
        $script = 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\Contracts\Console\Kernel::class)->bootstrap(); file_put_contents($argv[1], implode(" ", array_map(fn ($one) => DB::connection($one)->selectOne("select connection_id() id")->id, ["app", "keeper"]))); app(App\Runs\Refresh::class)->run(App\Models\Run::query()->findOrFail('.$run->id.'));';
        $child = Child::start('refresh', [PHP_BINARY, '-r', $script, $ids], [], '/dev/null', base_path());
        for ($until = microtime(true) + 60; Run::query()->whereKey($run->id)->value('pages') < 2 && microtime(true) < $until; usleep(5_000));
        if ($isKilled) {
            posix_kill($child->pid, SIGKILL);
            $child->stop(0);
        } else {
            foreach (explode(' ', (string) file_get_contents($ids)) as $id) {
                rescue(static fn () => DB::connection('keeper')->statement("KILL CONNECTION $id"), report: false);
            }
            for ($until = microtime(true) + 60; $child->isAlive() && microtime(true) < $until; usleep(20_000));
            $child->stop(0);
        }
        if ($run->refresh()->state !== RunState::Done) {
            self::assertTrue($isKilled, 'where only the database was away, the same process goes on: '.json_encode($run->diagnosis));
            self::assertSame($count, (string) $this->rows("select concat(count(*), ' ', sum(crc32(name))) n from crates")[0]->n, 'nothing is half applied');
            Run::query()->whereKey($run->id)->update(['state' => RunState::Queued]);
            app(Refresh::class)->run($run->refresh());
        }
        self::assertSame(RunState::Done, $run->refresh()->state, (string) json_encode($run->diagnosis));
        $this->assertTrueToTheList('after it was cut off');
    }
}
