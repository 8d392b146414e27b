<?php

declare(strict_types=1);

namespace Tests\App;

use App\Local\Child;
use App\Local\Ports;
use App\Models\RunState;
use App\Models\Source;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Pipeline\ReadingFailed;
use App\Pipeline\ReadingStopped;
use App\Pipeline\ReadPage;
use App\Pipeline\SourceConnections;
use App\Sources\SourceStore;
use App\Transport\Limits;
use DeepSpring\Pace\Settings;
use Tests\Lane;

/**
 * Getting pages: together or one after the other, again when it failed, at the pace allowed.
 */
final class FetchingTest extends AppTestCase
{
    private const PAGE = ['style' => 'page', 'send_as' => 'page', 'total' => '$.total'];

    private const CURSOR = ['style' => 'cursor', 'send_as' => 'after', 'next' => '$.next'];

    private string $plan = '';

    private int $port = 0;

    private ?Child $server = null;

    protected function tearDown(): void
    {
        $this->server?->stop(1);
        if ($this->plan !== '') {
            array_map(unlink(...), (array) glob($this->plan.'*'));
        }
        parent::tearDown();
    }

    public function test_pages_that_do_not_need_each_other_come_together_and_in_order(): void
    {
        $this->serve(['ms' => 150, 'all' => 195]);
        $one = $this->read(self::PAGE, new Settings(atOnce: 1));
        $eight = $this->read(self::PAGE, new Settings(atOnce: 8));
        self::assertSame(range(1, 195), $one['ids']);
        self::assertSame(range(1, 195), $eight['ids']);
        self::assertSame(range(1, 20), array_column($eight['watch']->answers, 0), 'in their order');
        $asked = $this->asked();
        self::assertCount(40, $asked, 'no page past the total is asked for');
        self::assertSame(0, $this->together(array_slice($asked, 0, 20), 0.150));
        self::assertGreaterThan(8, $this->together(array_slice($asked, 20), 0.150));
    }

    public function test_the_second_page_comes_with_the_others_where_the_list_was_read_before(): void
    {
        $this->serve(['ms' => 1000, 'all' => 45]);
        foreach ([false, true] as $known) {
            $source = $this->source2(self::PAGE);
            $reader = app(SourceConnections::class)->open($source, $source->current()->source(), $this->trial())->pages();
            $reader->pagesDiffer = $known;
            $pages = $reader->read($source->current()->endpoint('list') ?? self::fail(), [], new Limits(20, 3, 1 << 20), new Onlooker, new Pacer(app(RateLimitStore::class), $source->id, $this->trial()->id, new Settings(atOnce: 8)));
            self::assertSame(range(1, 45), array_merge(...array_map(static fn (ReadPage $page): array => array_column($page->records, 'id'), iterator_to_array($pages, false))));
        }
        $asked = $this->asked();
        self::assertCount(10, $asked);
        // The third page leaves behind the answer of the second, or before it.
        $times = array_map(floatval(...), $asked);
        self::assertGreaterThanOrEqual(1.0, $times[2] - $times[1]);
        self::assertLessThan(1.0, $times[7] - $times[6]);
    }

    public function test_without_a_total_few_pages_past_the_end_are_asked_for_and_none_is_kept(): void
    {
        $this->serve(['ms' => 30, 'all' => 45, 'total' => false]);
        $read = $this->read(['style' => 'page', 'send_as' => 'page'], new Settings(atOnce: 4));
        self::assertSame(range(1, 45), $read['ids']);
        self::assertLessThanOrEqual(6 + 4, count($this->asked()));
    }

    public function test_windows_of_time_come_together_and_in_order(): void
    {
        $this->serve(['ms' => 20, 'all' => 95, 'total' => false]);
        foreach (['P5D' => 10, 'P1M' => 2] as $step => $windows) {
            $before = count($this->asked());
            $read = $this->read(['style' => 'window', 'from_as' => 'from', 'to_as' => 'to', 'step' => $step, 'start' => '2030-01-01', 'end' => '2030-02-20'], new Settings);
            self::assertSame(range(1, 95), $read['ids']);
            self::assertSame($windows, count($this->asked()) - $before);
        }
    }

    public function test_a_list_of_one_page_is_one_request(): void
    {
        $this->serve(['all' => 7]);
        self::assertSame(range(1, 7), $this->read(self::PAGE, new Settings(atOnce: 8))['ids']);
        self::assertCount(1, $this->asked());
    }

    public function test_the_next_page_of_a_cursor_is_on_its_way_while_one_is_worked_on(): void
    {
        $this->serve(['ms' => 150, 'all' => 95]);
        $worked = [];
        $read = $this->read(self::CURSOR, new Settings, work: function () use (&$worked): void {
            // As long as it takes the next request to arrive, where one was sent meanwhile.
            for ($until = microtime(true) + 1.5; count($this->asked()) < count($worked) + 2 && microtime(true) < $until; usleep(5_000));
            $worked[] = microtime(true);
        });
        self::assertSame(range(1, 95), $read['ids']);
        $overlaps = 0;
        foreach (array_slice($this->asked(), 1) as $page => $asked) {
            $overlaps += (float) $asked < $worked[$page] ? 1 : 0;
        }
        self::assertGreaterThan(5, $overlaps, 'page n + 1 was asked for before the work on page n had ended');
    }

    public function test_what_fails_in_passing_is_asked_for_again_as_the_service_says(): void
    {
        $this->serve(['faults' => [2 => ['status' => 429, 'headers' => ['Retry-After' => '1']], 4 => ['status' => 503], 5 => ['status' => 502]], 'all' => 25]);
        $read = $this->read(self::CURSOR, new Settings);
        self::assertSame(range(1, 25), $read['ids']);
        self::assertSame([429, 503, 502], array_column($read['watch']->again, 1));
        self::assertGreaterThanOrEqual(1.0, $read['watch']->again[0][2]);
        $times = array_map(static fn (string $line): float => (float) $line, $this->asked());
        self::assertGreaterThanOrEqual(0.95, $times[2] - $times[1], 'nobody comes back sooner than asked');
    }

    public function test_what_failed_for_good_is_asked_for_once(): void
    {
        $this->serve(['always' => ['status' => 404]]);
        try {
            $this->read(self::PAGE, new Settings);
            self::fail('It went on.');
        } catch (ReadingFailed) {
            self::assertCount(1, $this->asked());
        }
    }

    public function test_an_outage_is_waited_out_behind_the_breaker_and_others_do_not_knock_meanwhile(): void
    {
        $this->serve(['always' => ['status' => 503, 'headers' => ['Retry-After' => '0']], 'all' => 15]);
        $source = $this->source2(self::PAGE);
        $settings = new Settings(tries: 2, patience: 30);
        $wakes = Child::start('repair', [PHP_BINARY, '-r', 'usleep(4_000_000); file_put_contents($argv[1], json_encode(["all" => 15]));', $this->plan], [], '/dev/null', base_path());
        $read = $this->read(self::PAGE, $settings, $source);
        $wakes->stop(1);
        self::assertSame(range(1, 15), $read['ids']);
        self::assertSame('closed', app(RateLimitStore::class)->state($source->id, $this->trial()->id)->breaker(microtime(true)));
        self::assertLessThan(10, count($this->asked()), 'it was left alone');
    }

    public function test_an_open_breaker_refuses_a_run_in_a_sentence_lets_a_try_through_and_is_closed_by_hand(): void
    {
        $this->serve(['all' => 15]);
        $source = $this->source2(self::PAGE);
        $settings = new Settings(patience: 1);
        $pacer = new Pacer(app(RateLimitStore::class), $source->id, $this->trial()->id, $settings);
        $pacer->trip();
        try {
            $this->read(self::PAGE, $settings, $source);
            self::fail('It went through.');
        } catch (ReadingFailed $failed) {
            self::assertSame('breaker', $failed->diagnosis->code);
            $since = app(RateLimitStore::class)->state($source->id, $this->trial()->id)->failingSince;
            self::assertStringContainsString(' has failed'.($since === null ? '' : ' since '.gmdate('H:i:s', (int) $since).' UTC').', so it gets no requests for now. ', $failed->diagnosis->what);
            self::assertMatchesRegularExpression('/^It is looked at again by itself at \d\d:\d\d:\d\d UTC\. /', $failed->diagnosis->advice);
            self::assertCount(0, $this->asked());
        }
        app(RateLimitStore::class)->close($source->id, $this->trial()->id, $settings);
        self::assertSame(range(1, 15), $this->read(self::PAGE, $settings, $source)['ids']);
        $pacer->trip();
        $try = app(\App\Runs\Tries::class)->endpoint($this->endpoint($source, 'list'), $source->current(), $source->current()->endpoint('list') ?? self::fail(), $this->trial(), null);
        self::assertTrue($try->succeeded);
        self::assertNull(app(RateLimitStore::class)->state($source->id, $this->trial()->id)->openUntil, 'a try that succeeds opens the way again');
    }

    public function test_a_connection_serves_page_after_page(): void
    {
        $port = Lane::ports(8820)->web;
        $this->allow($port);
        $this->server = Child::start('list', [PHP_BINARY, base_path('bench/list.php'), (string) $port], [], '/dev/null', base_path());
        Ports::await($port, 'The list');
        $source = $this->draft("http://127.0.0.1:$port/6/0", [], [['slug' => 'list', 'name' => 'List', 'ask' => ['path' => '/cursor'], 'answer' => ['records' => '$.data[*]'], 'onward' => self::CURSOR]]);
        $reading = app(SourceConnections::class)->open($source, $source->current()->source(), $this->trial());
        $connects = [];
        foreach ($reading->pages()->read($source->current()->endpoint('list') ?? self::fail(), [], new Limits(10, 2, 1 << 20), new Onlooker, new Pacer(app(RateLimitStore::class), $source->id, $this->trial()->id, new Settings)) as $page) {
            $connects[] = $page->sent->timing->connect;
        }
        self::assertCount(6, $connects);
        self::assertSame([0.0, 0.0, 0.0, 0.0, 0.0], array_slice($connects, 1), 'only the first had to connect');
    }

    public function test_a_stop_ends_what_is_under_way(): void
    {
        $this->serve(['ms' => 20_000]);
        $watch = new Onlooker;
        $watch->stopAt = microtime(true) + 0.4;
        $from = microtime(true);
        try {
            $this->read(self::PAGE, new Settings, watch: $watch);
            self::fail('It went on.');
        } catch (ReadingStopped) {
            self::assertLessThan(15, microtime(true) - $from, 'it did not wait for the answer');
        }
    }

    public function test_two_readers_share_what_is_allowed_at_once(): void
    {
        $this->serve([]);
        $source = $this->source2(self::PAGE);
        $rates = app(RateLimitStore::class);
        $settings = new Settings(atOnce: 4);
        $share = fn (string $reader, int $wants, int $underWay): int => $rates->share($source->id, $this->trial()->id, $settings, str_pad($reader, 16, '0'), $wants, $underWay);
        self::assertSame(4, $share('a', 8, 0));
        self::assertSame(0, $share('b', 8, 0), 'the first has not given any back yet');
        self::assertSame(2, $share('a', 8, 2));
        self::assertSame(2, $share('b', 8, 0));
        $rates->release(str_pad('a', 16, '0'));
        self::assertSame(4, $share('b', 8, 2));
    }

    public function test_a_refresh_in_which_nothing_has_changed_is_one_request(): void
    {
        $this->serve(['all' => 8, 'etag' => '"v1"']);
        $source = $this->source2(['style' => 'none'], publish: true);
        $first = $this->refresh($source, 'list');
        self::assertSame([RunState::Done, 8], [$first->state, $first->rows], (string) json_encode($first->diagnosis));
        $second = $this->refresh($source, 'list');
        self::assertSame(RunState::Done, $second->state);
        self::assertStringContainsString('Nothing has changed since', (string) $second->ended);
        self::assertStringEndsWith('"v1"', trim($this->asked()[1]), 'it was asked whether anything changed');
        self::assertSame('8', (string) $this->rows('select count(*) n from crates')[0]->n);
        $this->plan(['all' => 9, 'etag' => '"v2"']);
        self::assertSame(9, $this->refresh($source, 'list')->rows);
    }

    public function test_the_first_page_of_many_proves_nothing_about_the_others(): void
    {
        $this->serve(['all' => 15, 'etag' => '"v1"']);
        $source = $this->source2(self::CURSOR, publish: true);
        $this->refresh($source, 'list');
        $again = $this->refresh($source, 'list');
        self::assertSame(15, $again->records);
        self::assertStringNotContainsString('"v1"', implode('', $this->asked()));
    }

    public function test_changed_settings_are_never_answered_with_what_was_there(): void
    {
        $this->serve(['all' => 8, 'etag' => '"v1"']);
        $source = $this->source2(['style' => 'none'], publish: true);
        $this->refresh($source, 'list');
        $document = $source->current()->document;
        $document['endpoints'][0]['flatten']['columns'][] = ['name' => 'name', 'from' => '$.name', 'type' => 'text'];
        $store = app(SourceStore::class);
        $store->draft(\DeepSpring\SourceFile\SourceFile::of($document), null, $source);
        $store->publish($source->refresh(), null);
        self::assertSame(8, $this->refresh($source->refresh(), 'list')->records);
    }

    /**
     * @param  array<string, mixed>  $plan
     */
    private function serve(array $plan): void
    {
        $this->plan = (string) tempnam(sys_get_temp_dir(), 'list');
        $this->plan($plan);
        $this->port = Lane::ports(8800)->web;
        $this->allow($this->port);
        $this->server = Child::start('list', [PHP_BINARY, '-S', "127.0.0.1:{$this->port}", __DIR__.'/ListServer.php'], ['LIST_PLAN' => $this->plan, 'PHP_CLI_SERVER_WORKERS' => '8'], '/dev/null', base_path());
        Ports::await($this->port, 'The list');
    }

    /**
     * @param  array<string, mixed>  $plan
     */
    private function plan(array $plan): void
    {
        file_put_contents($this->plan, json_encode($plan === [] ? new \stdClass : $plan));
    }

    /**
     * How many requests came while the one before was still being answered.
     *
     * @param  list<string>  $asked
     * @param  float  $answer  seconds that an answer takes
     */
    private function together(array $asked, float $answer): int
    {
        $times = array_map(floatval(...), $asked);
        sort($times);

        return count(array_filter(array_slice($times, 1), static fn (float $time, int $before): bool => $time - $times[$before] < $answer, ARRAY_FILTER_USE_BOTH));
    }

    /**
     * @return list<string>
     */
    private function asked(): array
    {
        return is_file($this->plan.'.log') ? array_values((array) file($this->plan.'.log')) : [];
    }

    /**
     * @param  array<string, mixed>  $onward
     */
    private function source2(array $onward, bool $publish = false): Source
    {
        $source = $this->draft("http://127.0.0.1:{$this->port}", [], [['slug' => 'list', 'name' => 'List', 'ask' => ['path' => '/list'], 'answer' => ['records' => '$.records[*]'], 'onward' => $onward, 'flatten' => ['table' => 'crates', 'key' => ['id'], 'columns' => [['name' => 'id', 'from' => '$.id', 'type' => 'integer']]]]]);
        if ($publish) {
            app(SourceStore::class)->publish($source, null);
        }

        return $source->refresh();
    }

    /**
     * @param  array<string, mixed>  $onward
     * @return array{ids: list<int>, watch: Onlooker}
     */
    private function read(array $onward, Settings $settings, ?Source $source = null, ?\Closure $work = null, ?Onlooker $watch = null): array
    {
        $source ??= $this->source2($onward);
        $watch ??= new Onlooker;
        $endpoint = $source->current()->endpoint('list') ?? self::fail();
        $reading = app(SourceConnections::class)->open($source, $source->current()->source(), $this->trial());
        $ids = [];
        foreach ($reading->pages()->read($endpoint, [], new Limits(10, $settings->tries, 1 << 20), $watch, new Pacer(app(RateLimitStore::class), $source->id, $this->trial()->id, $settings)) as $page) {
            array_push($ids, ...array_map(static fn (object $record): int => $record->id, $page->records));
            if ($work !== null) {
                $work();
            }
        }

        return ['ids' => $ids, 'watch' => $watch];
    }
}
