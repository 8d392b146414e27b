<?php

declare(strict_types=1);

namespace Tests\App;

use App\Evidence\EvidenceWriter;
use App\Models\Role;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\Source;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Runs\RefreshJob;
use App\Runs\RunRecorder;
use App\Runs\Runs;
use DeepSpring\Pace\Settings;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\Artisan;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Queue;

final class RunsScreensTest extends AppTestCase
{
    public function test_runs_are_found_by_table_source_state_and_time(): void
    {
        $this->actingAs($this->person());
        $this->get('/runs')->assertOk()->assertSee('A run begins when');
        $this->refresh($this->source(), 'loans');
        $failed = $this->refresh($this->source('stores', ['path: /positions'."\n" => 'path: /nowhere'."\n"]), 'positions');
        Run::query()->whereKey($failed->id)->update(['created_at' => now()->subDays(3)]);
        $this->get('/runs')->assertSee('Loans out')->assertSee('Shelf positions');
        foreach (['q=loan_items' => 'Loans out', 'q=POSITIONS' => 'Shelf positions', 'source=stores' => 'Shelf positions', 'state=done' => 'Loans out', 'state=failed' => 'Shelf positions', 'within=1d' => 'Loans out'] as $query => $seen) {
            $this->get("/runs?$query")->assertOk()->assertSee("› $seen", false)->assertDontSee('› '.($seen === 'Loans out' ? 'Shelf positions' : 'Loans out'), false);
        }
        $this->get('/runs?q=%25')->assertSee('No run matches')->assertSee('Show all runs');
        $this->get("/runs/$failed->id?level=9")->assertOk()->assertSee('The exchange that ended it');
    }

    public function test_an_analyst_sees_no_run_and_stops_none(): void
    {
        $run = $this->refresh($this->source('stores'), 'positions');
        $this->actingAs($this->person(Role::Analyst));
        $this->get('/runs')->assertForbidden();
        foreach (['stop', 'go-on', 'again'] as $do) {
            $this->post("/runs/$run->id/$do")->assertForbidden();
        }
        $this->post('/sources/stores/pace')->assertForbidden();
    }

    public function test_an_exchange_of_another_run_is_not_shown(): void
    {
        $source = $this->source('stores', ['path: /positions'."\n" => 'path: /nowhere'."\n"]);
        $one = $this->refresh($source, 'positions');
        $two = $this->refresh($source, 'positions');
        $exchange = \App\Models\Exchange::query()->where('run_id', $one->id)->firstOrFail();
        $this->actingAs($this->person())->get("/runs/$two->id/exchanges/$exchange->id")->assertNotFound();
    }

    public function test_of_two_who_ask_at_once_both_get_the_same_run(): void
    {
        Queue::fake();
        $source = $this->source('stores');
        $endpoint = $this->endpoint($source, 'positions');
        $first = app(Runs::class)->queue($endpoint, $this->trial(), null);
        self::assertSame($first->id, app(Runs::class)->queue($endpoint, $this->trial(), null)->id);
        Queue::assertPushed(RefreshJob::class, 1);
        $this->expectException(\Illuminate\Database\UniqueConstraintViolationException::class);
        Run::query()->create(['endpoint_id' => $endpoint->id, 'environment_id' => $this->trial()->id, 'version' => 1, 'state' => RunState::Queued, 'active' => "$endpoint->id/{$this->trial()->id}"]);
    }

    public function test_a_run_is_taken_by_one_process_only(): void
    {
        $source = $this->source('stores');
        $run = app(Runs::class)->ask($this->endpoint($source, 'positions'), $this->trial(), null);
        app(\App\Runs\Refresh::class)->run($run);
        $again = app(\App\Runs\Refresh::class)->run(Run::query()->findOrFail($run->id));
        self::assertSame([RunState::Done, 1], [$again->state, $again->attempt], 'a job that comes twice does nothing');
    }

    public function test_a_process_that_was_thought_dead_commits_nothing_more(): void
    {
        $source = $this->source('loans-desk', ['{name: expand, in: query, fixed: items}' => '{name: slow, in: query, fixed: 120}']);
        $run = app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null);
        $seen = app(\App\Runs\Refresh::class)->run($run, static function (Run $run): void {
            if ($run->pages === 4) {
                // Somebody else took it over meanwhile.
                DB::table('runs')->where('id', $run->id)->update(['attempt' => DB::raw('attempt + 1')]);
            }
        });
        self::assertSame(RunState::Running, $seen->state, 'it is left to the other one');
        self::assertLessThan(24, $seen->pages);
        self::assertSame([], array_filter($this->tablesInTrial(), static fn (string $name): bool => ! str_starts_with($name, 'stage__')));
    }

    public function test_a_run_without_a_sign_of_life_goes_on_and_after_many_deaths_is_given_up(): void
    {
        $source = $this->source('stores');
        $run = app(Runs::class)->ask($this->endpoint($source, 'positions'), $this->trial(), null);
        DB::table('runs')->where('id', $run->id)->update(['state' => 'running', 'attempt' => 1, 'started_at' => now(), 'heartbeat_at' => now()]);
        app(Runs::class)->rescue();
        self::assertSame(RunState::Running, $run->refresh()->state, 'it has just given one');
        DB::table('runs')->where('id', $run->id)->update(['heartbeat_at' => now()->subSeconds(10)]);
        app(Runs::class)->rescue();
        self::assertSame([RunState::Queued, 1], [$run->refresh()->state, $run->deaths]);
        self::assertStringContainsString('The process that read this ended', (string) RunEvent::query()->where('run_id', $run->id)->value('text'));
        DB::table('runs')->where('id', $run->id)->update(['state' => 'running', 'heartbeat_at' => now()->addMinutes(9)]);
        app(Runs::class)->rescue();
        self::assertSame(RunState::Queued, $run->refresh()->state, 'one that said it would be silent is dead without its lock');
        DB::table('runs')->where('id', $run->id)->update(['state' => 'running', 'attempt' => 900, 'deaths' => 7, 'pages' => 5, 'died_at_page' => 4, 'heartbeat_at' => now()->subSeconds(10)]);
        app(Runs::class)->rescue();
        self::assertSame([RunState::Queued, 1], [$run->refresh()->state, $run->deaths], 'one that gets on may outlive any number of processes');
        DB::table('runs')->where('id', $run->id)->update(['state' => 'running', 'deaths' => 7, 'pages' => 5, 'died_at_page' => 5, 'heartbeat_at' => now()->subSeconds(10)]);
        app(Runs::class)->rescue();
        self::assertSame([RunState::Failed, 'died', null], [$run->refresh()->state, $run->diagnosis['code'] ?? '', $run->active]);
    }

    public function test_a_hung_process_is_parted_from_its_tables(): void
    {
        $source = $this->source('stores');
        $run = app(Runs::class)->ask($this->endpoint($source, 'positions'), $this->trial(), null);
        DB::table('runs')->where('id', $run->id)->update(['state' => 'running', 'attempt' => 1, 'started_at' => now(), 'heartbeat_at' => now()->subMinutes(2)]);
        $other = new \PDO('mysql:host=127.0.0.1;port='.config('database.connections.keeper.port'), (string) config('database.connections.keeper.username'), (string) config('database.connections.keeper.password'));
        $other->query("select get_lock('".\App\Reservoir\MariaDb\MariaDbStagedTables::lock(DB::connection('keeper'), $this->trial()->schema(), $run->owner())->name."', 0)");
        app(Runs::class)->rescue();
        $run = app(\App\Runs\Refresh::class)->run($run->refresh());
        self::assertSame([RunState::Done, 640], [$run->state, $run->rows], (string) json_encode($run->diagnosis));
    }

    public function test_a_stopped_run_is_stopped_at_once_and_cannot_be_run_on_after_a_newer_one(): void
    {
        $source = $this->source('loans-desk', ['{name: expand, in: query, fixed: items}' => '{name: slow, in: query, fixed: 2000}']);
        $run = app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null);
        $run = app(\App\Runs\Refresh::class)->run($run, static function (Run $run): void {
            if ($run->pages === 1) {
                app(Runs::class)->stop($run, true);
            }
        });
        self::assertSame([RunState::Stopped, true], [$run->state, $run->continuable], (string) $run->ended);
        self::assertStringContainsString('Stopped by hand at once', (string) $run->ended);
        $this->actingAs($this->person());
        $this->get("/runs/$run->id")->assertSee('Continue from page '.($run->pages + 1));
        $this->refresh($this->source(), 'loans');
        self::assertFalse(app(Runs::class)->goOn($run->refresh(), false));
        $this->get("/runs/$run->id")->assertDontSee('Continue from page');
        $this->post("/runs/$run->id/go-on")->assertRedirect("/runs/$run->id")->assertSessionHas('notice');
    }

    public function test_pace_is_set_on_the_sheet_and_the_breaker_is_seen_and_closed_there(): void
    {
        $source = $this->source('stores');
        $this->actingAs($this->person());
        $this->post('/sources/stores', $this->form($source, ['per_minute' => '90', 'at_once' => '2', 'timeout' => '30', 'tries' => '5', 'patience' => '60']))->assertOk()->assertSee('90 requests a minute, 2 at once');
        self::assertSame(['per_minute' => 90, 'at_once' => 2, 'patience' => 60], $source->refresh()->current()->document['source']['pace']);
        $this->post('/sources/stores', $this->form($source, ['per_minute' => '', 'at_once' => '0']))->assertSee('at_once');
        (new Pacer(app(RateLimitStore::class), $source->id, $this->trial()->id, new Settings))->trip();
        $this->get('/sources/stores')->assertSee('Stores gets no requests for now')->assertSee('Resume requests');
        $this->get('/sources')->assertSee('paused');
        $this->get('/')->assertSee('It has failed for long, so runs wait');
        $this->post('/sources/stores/pace')->assertRedirect('/sources/stores');
        $this->get('/sources/stores')->assertDontSee('gets no requests');
    }

    public function test_the_command_line_lists_runs_shows_logs_and_closes_breakers(): void
    {
        $run = $this->refresh($this->source('stores'), 'positions');
        [$code, $out] = $this->artisanProcess('spring:runs', '--table', 'positions');
        self::assertSame([0, "$run->id\tdone\tstores/positions\ttrial\t8 pages\t640 records\t640 rows"], [$code, implode("\t", array_slice(explode("\t", trim($out)), 0, 7))]);
        [$code, $out, $errors] = $this->artisanProcess('spring:runs', (string) $run->id, '--log', '3');
        self::assertSame(0, $code);
        self::assertSame(11, substr_count($out, "\n"));
        self::assertStringContainsString('Page 8: 80 records', $out);
        self::assertStringContainsString('8 pages, 640 records', $errors);
        self::assertSame(1, $this->artisanProcess('spring:runs', (string) $run->id, '--go-on')[0]);
        self::assertSame(2, $this->artisanProcess('spring:runs', '99999')[0]);
        self::assertSame(2, $this->artisanProcess('spring:runs', '--state', 'asleep')[0]);
        (new Pacer(app(RateLimitStore::class), Source::query()->where('slug', 'stores')->value('id'), $this->trial()->id, new Settings))->trip();
        self::assertStringContainsString('breaker open', $this->artisanProcess('spring:pace', 'stores', '--environment', 'trial')[1]);
        self::assertStringContainsString('breaker closed', $this->artisanProcess('spring:pace', 'stores', '--environment', 'trial', '--close')[1]);
        [, $out] = $this->artisanProcess('spring:try', 'stores/positions', '--environment', 'trial', '--onward');
        self::assertSame('page', json_decode((string) strtok($out, "\n"), true)['onward']['style'] ?? '', $out);
    }

    public function test_a_long_try_reads_all_of_a_draft_in_the_queue_and_keeps_nothing(): void
    {
        $source = $this->source('stores');
        $document = $source->current()->document;
        $document['endpoints'][0]['onward']['size'] = 40;
        $document['endpoints'][0]['flatten']['key'] = ['room'];
        app(\App\Sources\SourceStore::class)->draft(\DeepSpring\SourceFile\SourceFile::of($document), null, $source);
        $this->actingAs($this->person());
        $this->post('/sources/stores/endpoints/positions/prove')->assertRedirect();
        $run = Run::query()->latest('id')->firstOrFail();
        self::assertSame([RunState::Queued, 'try'], [$run->state, $run->kind]);
        $this->post('/sources/stores/endpoints/positions/prove')->assertRedirect("/runs/$run->id");
        $run = app(\App\Runs\Refresh::class)->run($run);
        self::assertSame([RunState::Done, 16, 640, 636], [$run->state, $run->pages, $run->records, $run->duplicates], (string) json_encode($run->diagnosis));
        self::assertSame([], $this->tablesInTrial());
        $this->get("/runs/$run->id")->assertSee('long try')->assertSee('nothing was kept')->assertSee('16 pages, 640');
        $this->get('/runs?sort=pages')->assertOk()->assertSee('long try');
        $this->get('/sources/stores/endpoints/positions')->assertOk();
        [$code, , $errors] = $this->artisanProcess('spring:try', 'stores/positions', '--environment', 'trial', '--to-the-end');
        self::assertSame(0, $code, $errors);
        self::assertStringContainsString('16 pages, 640', $errors);
        self::assertSame([], $this->tablesInTrial());
    }

    public function test_a_run_that_was_deleted_is_logged_no_more_and_breaks_nothing(): void
    {
        $source = $this->source();
        $run = app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null);
        $recorder = new RunRecorder($run->refresh(), app(EvidenceWriter::class));
        DB::table('runs')->where('id', $run->id)->delete();
        $recorder->log(2, null, 'step', 'Nobody reads this.');
        $recorder->save(true);
        self::assertSame([true, false], [$recorder->isGone, $recorder->goesOn()]);
    }

    public function test_what_a_deleted_endpoint_had_staged_is_cleared_away(): void
    {
        $source = $this->source('loans-desk', ['{name: expand, in: query, fixed: items}' => '{name: slow, in: query, fixed: 150}']);
        $run = app(Runs::class)->ask($this->endpoint($source, 'loans'), $this->trial(), null);
        app(\App\Runs\Refresh::class)->run($run, static function (Run $run): void {
            if ($run->pages === 3) {
                DB::table('endpoints')->where('id', $run->endpoint_id)->delete();
            }
        });
        self::assertNotSame([], $this->tablesInTrial());
        self::assertSame(0, Artisan::call('spring:tidy'), Artisan::output());
        self::assertSame([], $this->tablesInTrial());
    }

    public function test_old_runs_are_thinned_by_age(): void
    {
        $run = $this->refresh($this->source('stores'), 'positions');
        RunEvent::query()->where('run_id', $run->id)->update(['at' => Carbon::now()->subDays(8)->getTimestamp()]);
        self::assertSame(0, Artisan::call('spring:tidy'), Artisan::output());
        self::assertSame(3, RunEvent::query()->where('run_id', $run->id)->count(), 'outcome and steps stay');
        Run::query()->whereKey($run->id)->update(['created_at' => now()->subDays(40)]);
        $last = $this->refresh($this->source('stores'), 'positions');
        self::assertSame(0, Artisan::call('spring:tidy'), Artisan::output());
        self::assertNull(Run::query()->find($run->id));
        self::assertNotNull(Run::query()->find($last->id));
    }

    /**
     * @param  array<string, mixed>  $more
     * @return array<string, mixed>
     */
    private function form(Source $source, array $more): array
    {
        $document = $source->refresh()->current()->document['source'];

        return $more + ['name' => $document['name'], 'bases' => array_map(static fn (array $one): string => $one['base'], $document['environments']), 'access' => array_map(static fn (array $one): array => ['scheme' => 'api-key', 'in' => 'header', 'name' => $one['name'], 'value' => '{key}'] + ['was' => '0'], $document['access'])];
    }
}
