<?php

declare(strict_types=1);

namespace Tests\App;

use App\Models\RunState;
use App\Operations\Clock;
use App\Pace\RateLimitStore;
use App\Runs\Runs;
use App\Runs\Tries;
use DeepSpring\Pace\PaceState;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * A clock that was a day ahead and went back: nothing that it left behind keeps anybody waiting.
 */
final class ClockTest extends AppTestCase
{
    private const DAY = 86_400;

    public function test_a_paced_source_goes_on_at_once(): void
    {
        $source = $this->source('stores');
        $ahead = microtime(true) + self::DAY;
        foreach ([['fullAt' => $ahead], ['pausedUntil' => $ahead, 'reason' => 'It answered 429.'], ['openUntil' => $ahead, 'openFor' => 5, 'failures' => 5, 'failingSince' => $ahead], ['perMinute' => 0.01, 'perMinuteUntil' => $ahead]] as $state) {
            DB::table('paces')->delete();
            DB::table('paces')->insert(['source_id' => $source->id, 'environment_id' => $this->trial()->id, 'state' => json_encode((new PaceState)->but($state)->toArray()), 'breaker' => 'open', 'created_at' => now(), 'updated_at' => now()]);
            $pace = DB::table('paces')->value('id');
            DB::table('pace_readers')->insert(array_map(static fn (int $number): array => ['pace_id' => $pace, 'reader' => "gone$number", 'slots' => 4, 'wants' => 4, 'seen_at' => $ahead], range(1, 3)));
            $begun = hrtime(true);
            $run = $this->refresh($source, 'positions');
            self::assertSame(RunState::Done, $run->state, json_encode($state).json_encode($run->diagnosis));
            self::assertLessThan(30, (hrtime(true) - $begun) / 1e9, (string) json_encode($state));
        }
    }

    public function test_what_was_left_for_the_time_to_come_is_put_right(): void
    {
        $ahead = time() + self::DAY;
        DB::table('cache_locks')->insert(['key' => 'schedule', 'owner' => 'x', 'expiration' => $ahead]);
        DB::table('cache_locks')->insert(['key' => 'of now', 'owner' => 'x', 'expiration' => time() + 60]);
        DB::table('jobs')->insert(['queue' => 'default', 'payload' => '{}', 'attempts' => 0, 'reserved_at' => null, 'available_at' => $ahead, 'created_at' => $ahead]);
        app(Clock::class)->right();
        self::assertSame(['of now'], DB::table('cache_locks')->pluck('key')->all());
        self::assertLessThanOrEqual(time(), DB::table('jobs')->value('available_at'));

        $source = $this->source('stores');
        $run = app(Runs::class)->ask($this->endpoint($source, 'positions'), $this->trial(), null);
        DB::table('jobs')->delete();
        DB::table('runs')->where('id', $run->id)->update(['updated_at' => Carbon::now()->addDay()]);
        app(Runs::class)->rescue();
        self::assertSame(1, DB::table('jobs')->count(), 'a run that was queued tomorrow is queued again');
        DB::table('runs')->where('id', $run->id)->update(['state' => 'running', 'heartbeat_at' => Carbon::now()->addDay()]);
        app(Runs::class)->rescue();
        self::assertSame(RunState::Queued, $run->refresh()->state, 'a sign of life of tomorrow is none');
    }

    public function test_a_token_that_was_obtained_tomorrow_is_asked_for_anew(): void
    {
        $source = $this->source();
        self::assertTrue(app(Tries::class)->source($source, $source->current(), $this->trial(), null)->succeeded);
        $row = \App\Models\StoredToken::query()->firstOrFail();
        $vault = app(\App\Secrets\Vault::class);
        $token = (array) json_decode((string) $vault->unseal($row->sealed), true);
        $row->update(['sealed' => $vault->seal((string) json_encode(['value' => 'of-tomorrow', 'obtainedAt' => time() + self::DAY, 'expiresAt' => time() + self::DAY + 600] + $token)), 'expires_at' => Carbon::now()->addDay()]);
        self::assertTrue(app(Tries::class)->source($source, $source->current(), $this->trial(), null)->succeeded);
        self::assertSame(2, $row->refresh()->asked);
    }

    /**
     * Whatever a run waits for, a stop ends it within two seconds.
     */
    public function test_a_stop_works_whatever_a_run_waits_for(): void
    {
        $waits = [
            'the pace' => function (): array {
                $source = $this->source('stores');
                app(RateLimitStore::class)->change($source->id, $this->trial()->id, static fn (PaceState $state, float $now): array => [$state->but(['pausedUntil' => $now + 3000, 'reason' => 'It answered 429.']), null]);

                return [$source, 'positions'];
            },
            'the breaker' => function (): array {
                $source = $this->source('stores');
                app(RateLimitStore::class)->change($source->id, $this->trial()->id, static fn (PaceState $state, float $now): array => [$state->but(['openUntil' => $now + 100, 'openFor' => 100, 'failingSince' => $now]), null]);

                return [$source, 'positions'];
            },
            'an answer' => function (): array {
                return [$this->source('loans-desk', ['{name: expand, in: query, fixed: items}' => '{name: slow, in: query, fixed: 20000}']), 'loans'];
            },
            'a retry' => function (): array {
                $this->faults('stores', ['outage_until' => time() + 120]);

                return [$this->source('stores'), 'positions'];
            },
        ];
        foreach ($waits as $what => $make) {
            [$source, $slug] = $make();
            $run = app(Runs::class)->ask($this->endpoint($source, $slug), $this->trial(), null);
            $process = proc_open([PHP_BINARY, '-r', 'require "vendor/autoload.php"; $app = require "bootstrap/app.php"; $app->make(Illuminate\Contracts\Console\Kernel::class)->bootstrap(); app(App\Runs\Refresh::class)->run(App\Models\Run::query()->findOrFail((int) $argv[1]));', (string) $run->id], [['file', '/dev/null', 'r'], ['file', '/dev/null', 'w'], ['file', '/dev/null', 'w']], $pipes, base_path());
            self::assertIsResource($process);
            for ($until = microtime(true) + 60; $run->refresh()->state !== RunState::Running && microtime(true) < $until; usleep(20_000));
            if ($what === 'an answer') {
                self::assertTrue(Sockets::await(proc_get_status($process)['pid'], self::$standinsAddress), 'it asks');
            } else {
                for ($until = microtime(true) + 60; $run->refresh()->waits_for === null && microtime(true) < $until; usleep(20_000));
                self::assertNotNull($run->waits_for, $what);
            }
            self::assertSame(RunState::Running, $run->refresh()->state, $what);
            app(Runs::class)->stop($run, true);
            $begun = hrtime(true);
            while (proc_get_status($process)['running'] && hrtime(true) - $begun < 10e9) {
                usleep(20_000);
            }
            $took = (hrtime(true) - $begun) / 1e9;
            proc_terminate($process, SIGKILL);
            proc_close($process);
            $this->faults('stores', []);
            self::assertSame(RunState::Stopped, $run->refresh()->state, $what);
            // Two seconds are promised; a busy machine gets a little more.
            self::assertLessThan(4, $took, "waiting for $what");
            DB::table('runs')->delete();
            $source->delete();
        }
    }
}
