<?php

declare(strict_types=1);

namespace Tests\App;

use App\Evidence\EvidenceWriter;
use App\Models\Exchange;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Runs\RunRecorder;
use App\Runs\Runs;
use App\Transport\Sent;
use App\Transport\Timing;
use DeepSpring\Access\SecretMask;
use DeepSpring\Ask\SendFailure;
use GuzzleHttp\Psr7\Request;
use Illuminate\Support\Facades\DB;

/**
 * What a run writes down of itself, and what it learns of the wishes of others.
 */
final class RunRecorderTest extends AppTestCase
{
    protected function setUp(): void
    {
        parent::setUp();
        config(['spring.limits.beat_seconds' => 0]);
    }

    public function test_a_page_is_counted_laddered_and_logged(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        $recorder->answered($this->sent(200, '{"data": []}', 120.4), 1, 50);
        $recorder->answered($this->sent(200, '{"data": [1]}', 80, attempts: 3), 2, 1);
        $recorder->save(true);
        self::assertSame(['Page 1: 50 records, 200, 12 bytes, 120 ms; GET /', 'Page 2: 1 record, 200, 13 bytes, 80 ms, at try 3; GET /'], $this->said($run, 3));
        self::assertSame([1, 2], array_column($run->refresh()->ladder ?? [], 'page'), 'a rung for each page');
        self::assertSame(0, Exchange::query()->count(), 'what went well is not kept whole');
        self::assertSame(0, (int) $run->bytes, 'a page that is taken is counted as it is taken');
    }

    public function test_an_answer_without_records_is_kept_and_counted(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        $recorder->answered($this->sent(500, 'no'), 3, null);
        $recorder->keepLast();
        $recorder->save(true);
        self::assertSame('Page 3: failed, 500, 2 bytes, 0 ms; GET /', $this->said($run, 3)[0]);
        self::assertSame([1, 3], [Exchange::query()->count(), Exchange::query()->firstOrFail()->number], 'once, though it is also the last');
        self::assertSame(2, (int) $run->refresh()->bytes);
        self::assertMatchesRegularExpression('/^#\d+ GET \/ → 500$/', $this->said($run, 4)[0]);
    }

    public function test_every_exchange_is_kept_when_that_is_wanted_and_no_more_than_300(): void
    {
        $run = $this->started(['every_exchange' => true]);
        $recorder = $this->recorder($run);
        foreach (range(1, 305) as $page) {
            $recorder->answered($this->sent(200, '{}'), $page, 1);
        }
        $recorder->save(true);
        self::assertSame(300, Exchange::query()->count());
        self::assertCount(305, $this->said($run, 3), 'the log goes on');
    }

    public function test_secrets_are_masked_in_what_is_said_of_a_failure(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run, static fn (): SecretMask => new SecretMask(['walrus-4711']));
        $recorder->again($this->sent(null, '', failing: SendFailure::Refused, detail: 'http://x/?key=walrus-4711 refused'), 4, 2.0);
        $recorder->answered($this->sent(null, '', failing: SendFailure::Refused, detail: 'http://x/?key=walrus-4711 refused'), 4, null);
        $recorder->save(true);
        $all = (string) json_encode(DB::table('run_events')->get()).json_encode(DB::table('exchanges')->get());
        self::assertStringNotContainsString('walrus-4711', $all);
        self::assertStringContainsString('sent again in 2 s', $this->said($run, 3)[0]);
    }

    public function test_what_is_sent_again_is_counted_and_waited_for(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        $recorder->again($this->sent(429, ''), 2, 0.2);
        self::assertNull($run->waits_for, 'a short wait is not worth a word');
        $recorder->again($this->sent(503, ''), 2, 4.0);
        self::assertSame([2, 4200, 'page 2 to be sent again: it answered 503'], [$run->retries, $run->waited, $run->waits_for]);
        $recorder->again($this->sent(null, '', failing: SendFailure::Refused), 2, 1.0);
        self::assertSame('page 2 to be sent again: no answer came', $run->waits_for);
        $recorder->answered($this->sent(200, '{}'), 2, 1);
        self::assertNull($run->waits_for, 'it came');
    }

    public function test_a_wait_is_said_once_until_it_is_another_or_long(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        $now = \App\Pace\Ticks::now();
        $recorder->waits('the pace', $now + 0.1);
        self::assertNull($run->waits_for);
        $recorder->waits('the pace', $now + 2);
        $recorder->waits('the pace', $now + 2);
        $recorder->waits('another run', $now + 2);
        $recorder->waits('another run', $now + 60);
        self::assertSame('another run', $run->waits_for);
        $recorder->waits(null, 0);
        self::assertNull($run->waits_for);
        self::assertGreaterThanOrEqual(0, $run->waited);
        $recorder->save(true);
        self::assertSame(['the pace', 'another run', 'another run'], array_map(static fn (string $said): string => (string) preg_replace('/^Waits .*? for /', '', $said), $this->said($run, 3)));
    }

    public function test_a_refused_token_is_a_step_and_its_answer_is_kept(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        $recorder->answered($this->sent(401, 'expired'), 0, null);
        $recorder->save(true);
        self::assertSame(['The token was refused, and a new one was asked for.'], $this->said($run, 2));
        self::assertSame(EvidenceWriter::REFUSED, Exchange::query()->firstOrFail()->purpose);
        self::assertSame([], $run->refresh()->ladder ?? [], 'it is no page');
    }

    public function test_it_learns_that_it_is_to_stop_and_how(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        self::assertTrue($recorder->goesOn());
        DB::table('runs')->where('id', $run->id)->update(['stop_how' => 'page']);
        self::assertTrue($recorder->goesOn(), 'what is under way is waited for');
        self::assertTrue($recorder->stopsAfterPage);
        DB::table('runs')->where('id', $run->id)->update(['stop_how' => 'now']);
        self::assertFalse($recorder->goesOn());
        self::assertFalse($recorder->isOvertaken);
    }

    public function test_it_learns_that_another_process_works_for_the_run(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        DB::table('runs')->where('id', $run->id)->update(['attempt' => $run->attempt + 1]);
        self::assertFalse($recorder->goesOn());
        self::assertTrue($recorder->isOvertaken);
    }

    public function test_a_run_that_was_deleted_ends_it_without_a_fault(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        $recorder->log(1, null, 'step', 'Something happened.');
        DB::table('runs')->where('id', $run->id)->delete();
        $recorder->save(true);
        self::assertSame([true, true], [$recorder->isOvertaken, $recorder->isGone]);
    }

    public function test_a_text_of_the_log_is_cut_and_is_text(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        $recorder->log(1, null, 'step', str_repeat('ü', 2000)."\xff");
        $recorder->log(1, 7, 'step', "\xffÆrø");
        $recorder->save(true);
        self::assertSame([1000, '?Ærø'], [mb_strlen($this->said($run, 1)[0]), $this->said($run, 1)[1]]);
        self::assertSame([null, 7], RunEvent::query()->orderBy('id')->pluck('page')->all());
    }

    public function test_it_gives_a_sign_of_life_that_may_reach_ahead(): void
    {
        $run = $this->started();
        $recorder = $this->recorder($run);
        $recorder->beat();
        $now = $run->refresh()->heartbeat_at;
        $recorder->beat(100);
        self::assertEqualsWithDelta(100, $now?->diffInSeconds($run->refresh()->heartbeat_at), 10);
    }

    /**
     * @param  array<string, mixed>  $with
     */
    private function started(array $with = []): Run
    {
        $run = app(Runs::class)->ask($this->endpoint($this->source(), 'loans'), $this->trial(), null);
        $run->forceFill($with + ['state' => RunState::Running, 'attempt' => 1, 'started_at' => now()])->save();

        return $run->refresh();
    }

    private function recorder(Run $run, ?\Closure $mask = null): RunRecorder
    {
        return new RunRecorder($run, app(EvidenceWriter::class), $mask);
    }

    private function sent(?int $status, string $body, float $took = 0.0, int $attempts = 1, ?SendFailure $failing = null, string $detail = ''): Sent
    {
        return new Sent(new Request('GET', 'http://127.0.0.1/'), $status, '', '1.1', ['content-type' => 'application/json'], $body, $failing, $detail, new Timing(...['total' => $took, 'attempts' => $attempts] + get_object_vars(Timing::none())));
    }

    /**
     * @return list<string> what the log says at a level
     */
    private function said(Run $run, int $level): array
    {
        return array_values(RunEvent::query()->where('run_id', $run->id)->where('level', $level)->orderBy('id')->pluck('text')->map(strval(...))->all());
    }
}
