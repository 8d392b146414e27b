<?php

declare(strict_types=1);

namespace Tests\App;

use App\Environments\Environments;
use App\Local\Child;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\LogEntry;
use App\Models\Role;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\Schedule;
use App\Models\Source;
use App\Queries\QueryRunner;
use App\Runs\Refresh;
use App\Runs\Runs;
use App\Schedules\Age;
use App\Schedules\AskedRefreshes;
use App\Schedules\BegunRuns;
use App\Schedules\ScheduleBook;
use App\Schedules\Scheduler;
use App\Sources\SourceStore;
use App\View\Timetable;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Tests\Lane;

/**
 * What begins a refresh without anybody asking.
 */
final class SchedulesTest extends AppTestCase
{
    protected function tearDown(): void
    {
        Carbon::setTestNow();
        parent::tearDown();
    }

    /**
     * The endpoint of loans with this under `keep.refresh`, published, in Trial alone.
     */
    private function scheduled(string $refresh, string $slug = 'loans-desk', string $table = 'loans'): Source
    {
        $endpoint = ['loans-desk' => '  - slug: loans', 'stores' => '  - slug: positions'][$slug];

        return $this->source($slug, [$endpoint."\n" => "$endpoint\n    keep: {refresh: $refresh}\n"]);
    }

    private function at(string $moment): void
    {
        Carbon::setTestNow(Carbon::parse($moment, 'UTC'));
    }

    private function tick(): int
    {
        return app(Scheduler::class)->tick();
    }

    private function schedule(): Schedule
    {
        return Schedule::query()->orderBy('id')->firstOrFail();
    }

    /**
     * @return list<string|null> what began the runs there are
     */
    private function begun(): array
    {
        return array_values(Run::query()->orderBy('id')->get()->map(static fn (Run $run): ?string => $run->begun_by)->all());
    }

    /**
     * What waits is read, without a process of its own.
     */
    private function read(): void
    {
        foreach (Run::query()->where('state', RunState::Queued)->orderBy('id')->get() as $run) {
            app(Refresh::class)->run($run);
        }
    }

    public function test_a_time_that_is_due_begins_one_refresh(): void
    {
        $this->at('2031-01-15 06:20:30');
        $this->scheduled('{every: "*/30 * * * *"}');
        self::assertSame(0, $this->tick());
        self::assertSame('2031-01-15 06:30:00', $this->schedule()->next_at?->format('Y-m-d H:i:s'));
        $this->at('2031-01-15 06:29:59');
        self::assertSame(0, $this->tick());
        $this->at('2031-01-15 06:30:04');
        self::assertSame([1, 0], [$this->tick(), $this->tick()]);
        self::assertSame(['the schedule'], $this->begun());
        self::assertSame('2031-01-15 07:00:00', $this->schedule()->next_at->format('Y-m-d H:i:s'));
        self::assertSame(1, DB::table('jobs')->count(), 'it is in the queue');
        $this->read();
        self::assertSame(1200, KeptTable::query()->where('name', 'loans')->firstOrFail()->rows);
    }

    public function test_what_a_machine_slept_through_is_caught_up_once(): void
    {
        $this->at('2031-01-15 06:20:00');
        $this->scheduled('{every: "0 * * * *"}');
        $this->tick();
        $this->at('2031-01-17 03:20:00');
        self::assertSame([1, 0], [$this->tick(), $this->tick()]);
        self::assertSame(['the schedule, due at 2031-01-15 07:00 UTC; 44 more times were missed'], $this->begun());
        self::assertSame('2031-01-17 04:00:00', $this->schedule()->next_at?->format('Y-m-d H:i:s'));
    }

    public function test_a_refresh_that_is_under_way_is_not_begun_a_second_time(): void
    {
        $this->at('2031-01-15 06:20:00');
        $source = $this->scheduled('{every: "0 * * * *"}');
        $this->tick();
        $run = app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null);
        $this->at('2031-01-15 07:00:01');
        self::assertSame(0, $this->tick());
        self::assertSame(1, Run::query()->count());
        self::assertSame("The schedule's 2031-01-15 07:00 UTC came while this was under way; it was not begun a second time.", RunEvent::query()->where('run_id', $run->id)->where('kind', 'schedule')->value('text'));
        self::assertSame('2031-01-15 08:00:00', $this->schedule()->next_at?->format('Y-m-d H:i:s'));
    }

    public function test_two_schedulers_begin_everything_once(): void
    {
        $source = $this->scheduled('{every: "0 0 1 1 *"}');
        app(ScheduleBook::class)->align();
        $schedule = $this->schedule();
        $rows = [];
        for ($number = 0; $number < 60; $number++) {
            $endpoint = $source->endpoints()->create(['slug' => "copy-$number", 'name' => "Copy $number"]);
            $rows[] = ['endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id, 'refresh' => json_encode($schedule->refresh), 'next_at' => now()->subDay()->format('Y-m-d H:i:s'), 'created_at' => now(), 'updated_at' => now()];
        }
        Schedule::query()->insert($rows);
        $look = 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\\Contracts\\Console\\Kernel::class)->bootstrap(); app(App\\Schedules\\Scheduler::class)->tick();';
        $log = (string) tempnam(sys_get_temp_dir(), 'scheduler');
        $both = array_map(static fn (string $name): Child => Child::start($name, [PHP_BINARY, '-r', $look], [], $log, base_path()), ['one', 'two']);
        for ($until = microtime(true) + 60; array_filter($both, static fn (Child $one): bool => $one->isAlive()) !== [] && microtime(true) < $until; usleep(50_000));
        self::assertSame('', (string) file_get_contents($log));
        unlink($log);
        self::assertSame(60, Run::query()->count());
        self::assertSame(60, Run::query()->distinct()->count('endpoint_id'));
        self::assertSame(60, DB::table('jobs')->count());
        self::assertSame(0, Schedule::query()->where('next_at', '<=', now())->count());
    }

    public function test_sources_that_are_due_at_once_take_turns(): void
    {
        $this->at('2031-01-15 06:20:00');
        $loans = $this->scheduled('{every: "0 7 * * *"}');
        $stores = $this->scheduled('{every: "0 7 * * *"}', 'stores');
        $this->tick();
        foreach (['a', 'b', 'c'] as $slug) {
            $copy = $loans->endpoints()->create(['slug' => $slug, 'name' => $slug]);
            Schedule::query()->create(['endpoint_id' => $copy->id, 'environment_id' => $this->trial()->id, 'refresh' => ['every' => '0 7 * * *'], 'next_at' => '2031-01-15 06:59:00']);
        }
        $this->at('2031-01-15 07:00:00');
        self::assertSame(5, $this->tick());
        $sources = Run::query()->with('endpoint')->orderBy('id')->get()->map(static fn (Run $run): int => $run->endpoint->source_id)->all();
        self::assertSame([$loans->id, $stores->id, $loans->id, $loans->id, $loans->id], array_values($sources));
    }

    public function test_one_that_cannot_be_followed_holds_up_none_of_the_others(): void
    {
        $this->at('2031-01-15 06:20:00');
        $source = $this->scheduled('{every: "0 7 * * *"}');
        $this->tick();
        $copy = $source->endpoints()->create(['slug' => 'broken', 'name' => 'Broken']);
        Schedule::query()->create(['endpoint_id' => $copy->id, 'environment_id' => $this->trial()->id, 'refresh' => ['every' => 'at noon'], 'next_at' => '2031-01-15 06:30:00']);
        $this->at('2031-01-15 07:00:00');
        self::assertSame(1, $this->tick());
        self::assertSame(0, $this->tick());
    }

    public function test_what_is_published_is_followed(): void
    {
        $this->at('2031-01-15 06:20:00');
        $source = $this->scheduled('{every: "0 7 * * *", zone: Europe/Oslo}');
        $this->tick();
        $when = fn (): ?string => Schedule::query()->first()?->next_at?->format('d H:i');
        self::assertSame(['16 06:00', 1], [$when(), Schedule::query()->count()]);
        $store = app(SourceStore::class);
        $publish = function (?array $refresh) use ($store, $source): void {
            $store->edit($source, null, function (array $document) use ($refresh): array {
                $document['endpoints'][0]['keep'] = $refresh === null ? [] : ['refresh' => $refresh];
                if ($refresh === null) {
                    unset($document['endpoints'][0]['keep']);
                }

                return $document;
            });
            // A draft changes nothing.
            $before = Schedule::query()->first()?->refresh;
            $this->tick();
            self::assertSame($before, Schedule::query()->first()?->refresh);
            $store->publish($source->refresh(), null);
            $this->tick();
        };
        // The same times with something else: what is next stays, also where it is due.
        $publish(['every' => '0 7 * * *', 'zone' => 'Europe/Oslo', 'after' => ['borrowers']]);
        self::assertSame('16 06:00', $when());
        $publish(['every' => '0 7 * * *', 'zone' => 'America/New_York']);
        self::assertSame('15 12:00', $when());
        $publish(['after' => ['borrowers']]);
        self::assertSame([null, 1], [$when(), Schedule::query()->count()]);
        $publish(['every' => 'manual']);
        self::assertSame(0, Schedule::query()->count());
        $publish(['every' => '@hourly', 'in' => ['production', 'trial']]);
        self::assertSame(2, Schedule::query()->count());
        $publish(null);
        self::assertSame(0, Schedule::query()->count());
    }

    public function test_an_environment_that_comes_later_is_followed(): void
    {
        $this->source('loans-desk', ["  - slug: loans\n" => "  - slug: loans\n    keep: {refresh: {every: '@daily', in: [harbour]}}\n", "  environments:\n" => "  environments:\n    harbour: {base: '".self::$standinsAddress."/loans-desk/v2'}\n"]);
        $this->tick();
        self::assertSame(0, Schedule::query()->count());
        $harbour = app(Environments::class)->add('Harbour');
        $this->tick();
        self::assertSame([$harbour->id], Schedule::query()->pluck('environment_id')->all());
        Schedule::query()->delete();
        Environment::query()->whereKey($harbour->id)->delete();
        DB::connection('keeper')->statement("drop database if exists `{$harbour->schema()}`");
    }

    public function test_a_clock_that_was_ahead_does_not_keep_a_table_waiting(): void
    {
        $this->at('2036-01-15 06:20:00');
        $this->scheduled('{every: "0 7 * * *"}');
        $this->tick();
        $this->at('2031-01-15 06:20:00');
        $this->tick();
        self::assertSame('2031-01-15 07:00:00', $this->schedule()->next_at?->format('Y-m-d H:i:s'));
    }

    public function test_a_pause_lasts_until_somebody_ends_it_and_nothing_is_made_up_for(): void
    {
        $this->at('2031-01-15 06:20:00');
        $this->scheduled('{every: "0 7 * * *"}');
        $this->tick();
        $book = app(ScheduleBook::class);
        $book->pause($this->schedule(), null);
        $this->at('2031-01-18 08:00:00');
        self::assertSame(0, $this->tick());
        $book->resume($this->schedule());
        self::assertSame(0, $this->tick());
        self::assertSame('2031-01-19 07:00:00', $this->schedule()->next_at?->format('Y-m-d H:i:s'));
    }

    public function test_a_table_is_read_after_each_refresh_of_another(): void
    {
        $this->scheduled('{after: [positions]}');
        $stores = $this->source('stores');
        $this->tick();
        $first = $this->refresh($stores, 'positions');
        self::assertSame([1, 0], [$this->tick(), $this->tick()]);
        $second = Run::query()->orderByDesc('id')->firstOrFail();
        self::assertSame(['the refresh of positions', [$first->endpoint_id]], [$second->begun_by, $second->chain]);
        self::assertSame("After it, Loans out, newest first is read: run {$second->id}.", RunEvent::query()->where('run_id', $first->id)->where('kind', 'after')->value('text'));
        // One that fails is followed by nothing.
        $this->read();
        $this->faults('stores', ['outage' => true]);
        Run::query()->create(['endpoint_id' => $first->endpoint_id, 'environment_id' => $this->trial()->id, 'state' => RunState::Failed, 'kind' => 'refresh', 'tables' => '', 'version' => 1]);
        $this->faults('stores', []);
        $count = Run::query()->count();
        $this->tick();
        self::assertSame($count, Run::query()->count());
    }

    public function test_tables_that_are_read_after_each_other_do_not_chase_each_other(): void
    {
        $this->scheduled('{after: [positions]}');
        $stores = $this->scheduled('{after: [loans]}', 'stores');
        $this->tick();
        $first = $this->refresh($stores, 'positions');
        for ($round = 0; $round < 4; $round++) {
            $this->tick();
            $this->read();
        }
        self::assertSame(2, Run::query()->count());
        $last = Run::query()->orderByDesc('id')->firstOrFail();
        self::assertStringContainsString('its own refresh led to this one, so it is not read again', (string) RunEvent::query()->where('run_id', $last->id)->where('kind', 'after')->value('text'));
        self::assertNotSame($first->id, $last->id);
    }

    public function test_a_reader_of_old_rows_is_told_and_has_them_read_anew(): void
    {
        $this->refresh($this->scheduled('{when_asked: {older_than: PT2H}}'), 'loans');
        $this->tick();
        $person = $this->person(Role::Analyst);
        $ask = fn (): array => app(QueryRunner::class)->run($person, $this->trial(), 'select count(*) from loans l join loan_items i on i.loan_id = l.loan_id')->asked;
        self::assertSame([], $ask());
        KeptTable::query()->update(['refreshed_at' => now()->subMinutes(185)]);
        $asked = $ask();
        $run = Run::query()->orderByDesc('id')->firstOrFail();
        self::assertSame(["loan_items: its rows are 3 h 5 min old, and are to be read anew after 2 h. Run {$run->id} reads them now; these are still the old ones.", "loans: its rows are 3 h 5 min old, and are to be read anew after 2 h. Run {$run->id} reads them now; these are still the old ones."], array_map(static fn ($one): string => $one->sentence(), $asked));
        self::assertMatchesRegularExpression('/^a reader of loan(s|_items), whose rows were 3 h 5 min old$/', (string) $run->begun_by);
        // Who asks meanwhile begins no other one.
        self::assertSame($run->id, $ask()[0]->run);
        self::assertSame(2, Run::query()->count());
        $this->read();
        self::assertSame([], $ask());
    }

    public function test_a_reader_that_waits_sees_the_new_rows_or_is_told_why_not(): void
    {
        config(['spring.query.fresh_seconds' => 30]);
        $this->refresh($this->scheduled('{when_asked: {older_than: PT2H, wait: true}}'), 'loans');
        $this->tick();
        $old = ['refreshed_at' => now()->subHours(3)];
        KeptTable::query()->update($old);
        DB::connection('keeper')->statement('delete from deep_spring_test_data_trial.loans');
        $root = dirname(__DIR__, 2);
        $worker = Child::start('worker', [PHP_BINARY, "$root/artisan", 'queue:work', '--sleep=0', '--max-time=40'], $_ENV, Lane::folder().'/suite/log/asked-worker.log', $root);
        try {
            $result = app(QueryRunner::class)->run($this->person(Role::Analyst), $this->trial(), 'select count(*) from loans');
        } finally {
            $worker->stop(5);
        }
        self::assertSame('1200', $result->rows[0][0]);
        self::assertTrue($result->asked[0]->isRenewed);
        self::assertStringContainsString('was refreshed first, by run', $result->asked[0]->sentence());
        // Nobody works: after so long the old rows are shown.
        KeptTable::query()->update($old);
        config(['spring.query.fresh_seconds' => 1]);
        $asked = app(QueryRunner::class)->run($this->person(Role::Analyst), $this->trial(), 'select count(*) from loans')->asked[0];
        self::assertStringContainsString('was waited for: it was not there in time, so these are still the old ones.', $asked->sentence());
        // One that fails is not begun again by the next reader.
        $run = Run::query()->orderByDesc('id')->firstOrFail();
        $run->update(['state' => RunState::Failed, 'active' => null, 'ended_at' => now()]);
        $asked = app(AskedRefreshes::class)->of($this->trial(), ['loans'], 1)[0];
        self::assertNull($asked->run);
        self::assertStringContainsString("The last refresh failed a moment ago (run {$run->id})", $asked->sentence());
    }

    public function test_an_age_is_said_in_its_two_largest_units(): void
    {
        self::assertSame(['0 s', '59 s', '1 min', '3 h 5 min', '1 day', '1 day 1 h', '2 days'], array_map(Age::words(...), [0, 59, 60, 11_100, 86_400, 90_000, 2 * 86_400 + 1800]));
    }

    public function test_the_page_shows_what_is_due_and_what_was_read(): void
    {
        $this->at('2031-01-15 06:20:00');
        $source = $this->scheduled('{every: "0 */2 * * *", zone: Europe/Oslo}');
        $this->refresh($source, 'loans');
        $this->actingAs($this->person(Role::Analyst))->get('/schedule')->assertForbidden();
        $builder = $this->person();
        $page = $this->actingAs($builder)->get('/schedule')->assertOk()->assertSee('Loans out, newest first')->assertSee('every 2 hours at :00')->assertSee('Wed 15 Jan 08:00');
        self::assertStringContainsString('class="done"', (string) $page->getContent());
        self::assertSame(9, substr_count((string) $page->getContent(), 'class="planned"') - 1, 'from 08:00 to midnight in Oslo, beside the one in the key');
        $this->actingAs($builder)->get('/schedule?span=week&q=nowhere')->assertOk()->assertSee('No schedule matches');
        $this->actingAs($builder)->get('/schedule?day=2031-02-30&zone=Nowhere&sort=x&page=99')->assertOk();
        $id = $this->schedule()->id;
        $this->actingAs($builder)->post("/schedule/$id/pause")->assertRedirect();
        $this->actingAs($builder)->get('/schedule')->assertOk()->assertSee('paused');
        $this->actingAs($builder)->post("/schedule/$id/resume")->assertRedirect();
        $this->actingAs($builder)->post("/schedule/$id/now")->assertRedirect();
        self::assertSame(['schedule paused', 'schedule resumed'], LogEntry::query()->where('action', 'like', 'schedule%')->orderByDesc('id')->limit(2)->pluck('action')->reverse()->values()->all());
    }

    public function test_the_picture_names_where_more_is_due_than_can_be_read(): void
    {
        $this->at('2031-01-15 06:20:00');
        $source = $this->source();
        $schedules = collect();
        foreach (['a' => '0 7 * * *', 'b' => '0 7 * * *', 'c' => '0 7,8 * * *', 'd' => '*/30 * * * *'] as $slug => $every) {
            $endpoint = $source->endpoints()->create(['slug' => $slug, 'name' => "Copy $slug"]);
            $schedules->push(Schedule::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id, 'refresh' => ['every' => $every], 'next_at' => now()])->load('endpoint'));
        }
        $ids = $schedules->pluck('endpoint_id');
        $seconds = array_combine($ids->all(), [120.0, 120.0, 60.0, 2000.0]);
        $picture = new Timetable(Carbon::parse('2031-01-15'), Carbon::parse('2031-01-16'), new \DateTimeZone('UTC'), Carbon::now(), $schedules, $seconds, (new BegunRuns)->within($this->trial(), Carbon::parse('2031-01-15'), Carbon::parse('2031-01-16')), 2);
        $sentences = implode("\n", $picture->crowded());
        self::assertStringContainsString('07:00: 4 refreshes are due, with 2 workers; the last one waits about 3 min 20 s.', $sentences);
        self::assertStringContainsString('Copy d is left out, since the refresh before is still under way.', $sentences);
        self::assertSame(['planned'], array_values(array_unique(array_column($picture->bars($schedules[0]), 'kind'))));
        self::assertContains('out', array_column($picture->bars($schedules[3]), 'kind'));
        self::assertSame('0 refreshes; 2 at once at most', $picture->summary());
    }

    public function test_the_command_line_lists_pauses_and_resumes(): void
    {
        $this->at('2031-03-29 20:00:00');
        $this->refresh($this->scheduled('{every: "30 2 * * *", zone: Europe/Oslo}'), 'loans');
        $run = function (array $with): array {
            $code = Artisan::call('spring:schedule', $with);

            return [$code, Artisan::output()];
        };
        self::assertSame([0, "loans-desk/loans\ttrial\tfollowed\tdaily at 02:30, Europe/Oslo\t2031-03-30 03:00+02:00, 2031-03-31 02:30+02:00\n"], $run(['--next' => '2']));
        self::assertSame(0, $run(['which' => 'loan_items', '--pause' => true])[0]);
        self::assertStringContainsString("paused\tdaily at 02:30", $run(['which' => 'loans-desk'])[1]);
        self::assertStringContainsString("followed\tdaily at 02:30", $run(['which' => 'loans-desk/loans', '--resume' => true])[1]);
        self::assertSame(1, $run(['which' => 'nothing'])[0]);
        self::assertSame(2, $run(['--pause' => true])[0]);
        self::assertSame(2, $run(['--times' => '0 0 31 2 *'])[0]);
        self::assertStringContainsString("2031-10-26 02:30+02:00\n2031-10-26 02:00+01:00", (function () use ($run): string {
            $this->at('2031-10-26 00:10:00');

            return $run(['--times' => '*/30 * * * *', '--zone' => 'Europe/Oslo'])[1];
        })());
    }
}
