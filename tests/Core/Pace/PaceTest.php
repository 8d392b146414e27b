<?php

declare(strict_types=1);

namespace Tests\Core\Pace;

use DeepSpring\Ask\SendFailure;
use DeepSpring\Pace\Allowance;
use DeepSpring\Pace\Backoff;
use DeepSpring\Pace\PaceState;
use DeepSpring\Pace\Pacing;
use DeepSpring\Pace\Settings;
use DeepSpring\Pace\Shares;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class PaceTest extends TestCase
{
    private const NOW = 1893456000.0;

    /**
     * @return iterable<string, array{array<string, string>, array{int|null, int|null, int|null, float|null, float|null}}>
     */
    public static function headers(): iterable
    {
        yield 'nothing' => [[], [null, null, null, null, null]];
        yield 'retry in seconds' => [['retry-after' => '7'], [null, null, null, null, 7.0]];
        yield 'retry at a date' => [['retry-after' => 'Tue, 01 Jan 2030 00:00:09 GMT'], [null, null, null, null, 9.0]];
        yield 'retry at a date in the old form' => [['retry-after' => 'Tuesday, 01-Jan-30 00:00:09 GMT'], [null, null, null, null, 9.0]];
        yield 'retry at a date that is over' => [['retry-after' => 'Mon, 31 Dec 2029 00:00:00 GMT'], [null, null, null, null, 0.0]];
        yield 'retry with a fraction' => [['retry-after' => '1.5'], [null, null, null, null, 1.5]];
        yield 'rubbish' => [['retry-after' => 'soon-ish', 'x-ratelimit-limit' => 'many'], [null, null, null, null, null]];
        yield 'negative' => [['retry-after' => '-5'], [null, null, null, null, null]];
        yield 'the old family' => [['x-ratelimit-limit' => '600', 'x-ratelimit-remaining' => '599', 'x-ratelimit-reset' => '30'], [600, null, 599, 30.0, null]];
        yield 'reset as a moment' => [['x-ratelimit-limit' => '600', 'x-ratelimit-remaining' => '1', 'x-ratelimit-reset' => '1893456030'], [600, null, 1, 30.0, null]];
        yield 'reset in milliseconds' => [['x-ratelimit-remaining' => '1', 'x-ratelimit-reset' => '1893456030500'], [null, null, 1, 30.5, null]];
        yield 'reset as a date' => [['x-ratelimit-remaining' => '0', 'x-ratelimit-reset' => '2030-01-01T00:01:00Z'], [null, null, 0, 60.0, null]];
        yield 'with a hyphen more' => [['x-rate-limit-limit' => '10', 'x-rate-limit-remaining' => '3', 'x-rate-limit-reset' => '5'], [10, null, 3, 5.0, null]];
        yield 'three headers' => [['ratelimit-limit' => '100, 100;w=60', 'ratelimit-remaining' => '50', 'ratelimit-reset' => '20'], [100, 60, 50, 20.0, null]];
        yield 'one header with members' => [['ratelimit' => 'limit=100, remaining=50, reset=20'], [100, null, 50, 20.0, null]];
        yield 'structured' => [['ratelimit' => '"default";r=50;t=30', 'ratelimit-policy' => '"default";q=100;w=60'], [100, 60, 50, 30.0, null]];
        yield 'the tightest of several' => [['ratelimit' => '"day";r=900;t=9000, "burst";r=2;t=1', 'ratelimit-policy' => '"day";q=1000;w=86400, "burst";q=10;w=1'], [10, 1, 2, 1.0, null]];
        yield 'a policy alone' => [['ratelimit-policy' => '"burst";q=60;w=60'], [60, 60, null, null, null]];
        yield 'both' => [['retry-after' => '3', 'x-ratelimit-remaining' => '0', 'x-ratelimit-reset' => '9'], [null, null, 0, 9.0, 3.0]];
    }

    /**
     * @param  array<string, string>  $headers
     * @param  array{int|null, int|null, int|null, float|null, float|null}  $expected
     */
    #[DataProvider('headers')]
    public function test_what_an_answer_says_of_its_pace_is_read(array $headers, array $expected): void
    {
        $read = Allowance::read($headers, self::NOW);
        self::assertSame($expected, [$read->limit, $read->window, $read->remaining, $read->resetIn, $read->retryAfter]);
    }

    /**
     * @return iterable<string, array{int|null, SendFailure|null, int, float|null, array{int, int}|null}>
     */
    public static function failures(): iterable
    {
        yield 'busy, told to wait' => [429, null, 1, 7.0, [7000, 8000]];
        yield 'busy, told nothing' => [429, null, 1, null, [50, 1000]];
        yield 'down, the third time' => [503, null, 3, null, [50, 4000]];
        yield 'down, often' => [503, null, 9, null, [50, 60_000]];
        yield 'told to wait for an hour' => [429, null, 1, 3600.0, null];
        yield 'a gateway' => [502, null, 1, null, [50, 1000]];
        yield 'refused' => [null, SendFailure::Refused, 2, null, [50, 2000]];
        yield 'cut' => [null, SendFailure::Cut, 1, null, [50, 1000]];
        yield 'too slow' => [null, SendFailure::AnswerTimeout, 1, null, [50, 1000]];
        yield 'an unknown name' => [null, SendFailure::Name, 1, null, null];
        yield 'a bad certificate' => [null, SendFailure::Tls, 1, null, null];
        yield 'stopped by hand' => [null, SendFailure::Stopped, 1, null, null];
        yield 'a fault of the service' => [500, null, 1, null, null];
        yield 'a fault of ours' => [400, null, 1, null, null];
        yield 'all is well' => [200, null, 1, null, null];
        yield 'the last try' => [503, null, 10, null, null];
    }

    /**
     * @param  array{int, int}|null  $between
     */
    #[DataProvider('failures')]
    public function test_a_request_is_sent_again_when_that_may_help(?int $status, ?SendFailure $failing, int $attempt, ?float $asked, ?array $between): void
    {
        foreach ([0.0, 0.5, 1.0] as $chance) {
            $wait = Backoff::wait($status, $failing, $attempt, 10, true, $asked, $chance);
            if ($between === null) {
                self::assertNull($wait);
            } else {
                self::assertGreaterThanOrEqual($between[0], $wait);
                self::assertLessThanOrEqual($between[1], $wait);
            }
        }
        self::assertNull(Backoff::wait($status, $failing, $attempt, 10, false, $asked, 0.5), 'what writes is never repeated by itself');
    }

    public function test_no_minute_holds_more_requests_than_are_set_and_hardly_fewer(): void
    {
        foreach ([6, 30, 60, 600, 6000] as $perMinute) {
            $pacing = new Pacing(new Settings($perMinute));
            $state = new PaceState;
            $sent = [];
            for ($now = 0.0; $now < 200;) {
                [$state, $at] = $pacing->take($state, $now);
                $sent[] = $at;
                $now = max($now, $at);
            }
            $most = 0;
            for ($from = 0, $to = 0; $to < count($sent); $to++) {
                while ($sent[$to] - $sent[$from] > 60) {
                    $from++;
                }
                $most = max($most, $to - $from + 1);
            }
            self::assertLessThanOrEqual($perMinute, $most, "$perMinute a minute");
            $steady = count(array_filter($sent, static fn (float $at): bool => $at >= 60 && $at < 180)) / 2;
            self::assertGreaterThanOrEqual(floor(0.95 * $perMinute), $steady, "$perMinute a minute");
        }
    }

    public function test_nothing_set_and_nothing_said_is_no_limit(): void
    {
        $pacing = new Pacing(new Settings);
        self::assertSame([4, null, 5.0], [$pacing->atOnce(new PaceState), $pacing->perMinute(new PaceState, 5.0), $pacing->take(new PaceState, 5.0)[1]]);
    }

    public function test_a_refusal_pauses_everybody_and_halves_what_goes_at_once_and_success_brings_it_back(): void
    {
        $pacing = new Pacing(new Settings(atOnce: 8));
        $state = $pacing->answered(new PaceState, 429, Allowance::read(['retry-after' => '3'], self::NOW), self::NOW);
        self::assertSame([self::NOW + 3, 4], [$pacing->take($state, self::NOW)[1], $pacing->atOnce($state)]);
        self::assertSame('It answered 429: it asked to wait 3 s.', $state->reason);
        $same = $pacing->answered($state, 429, Allowance::read(['retry-after' => '3'], self::NOW), self::NOW + 1);
        self::assertSame(4, $pacing->atOnce($same), 'answers to requests that left together count once');
        $worse = $pacing->answered($state, 429, Allowance::read([], self::NOW), self::NOW + 4);
        self::assertSame(2, $pacing->atOnce($worse));
        for ($n = 0; $n < 400; $n++) {
            $worse = $pacing->answered($worse, 200, Allowance::read([], self::NOW), self::NOW + 10);
        }
        self::assertSame(8, $pacing->atOnce($worse));
    }

    public function test_what_the_api_says_is_left_is_spread_over_its_time_once_it_gets_scarce(): void
    {
        $pacing = new Pacing(new Settings);
        $said = static fn (int $remaining): Allowance => Allowance::read(['x-ratelimit-limit' => '600', 'x-ratelimit-remaining' => (string) $remaining, 'x-ratelimit-reset' => '30'], self::NOW);
        self::assertNull($pacing->perMinute($pacing->answered(new PaceState, 200, $said(500), self::NOW), self::NOW), 'there is plenty');
        $scarce = $pacing->answered(new PaceState, 200, $said(60), self::NOW);
        self::assertSame([120.0, null], [$pacing->perMinute($scarce, self::NOW), $pacing->perMinute($scarce, self::NOW + 31)]);
        self::assertSame(self::NOW + 30, $pacing->take($pacing->answered(new PaceState, 200, $said(0), self::NOW), self::NOW)[1]);
        $set = new Pacing(new Settings(perMinute: 60));
        self::assertSame(60.0, (float) $set->perMinute($scarce, self::NOW), 'the lower of both holds');
        $policy = $pacing->answered(new PaceState, 200, Allowance::read(['ratelimit-policy' => '"p";q=10;w=1'], self::NOW), self::NOW);
        self::assertSame(600.0, $pacing->perMinute($policy, self::NOW));
    }

    public function test_the_breaker_opens_after_failing_for_long_half_opens_by_itself_and_closes_on_success(): void
    {
        $pacing = new Pacing(new Settings);
        $state = new PaceState;
        for ($n = 0; $n < 4; $n++) {
            $state = $pacing->failed($state, 'It gives no answer.', self::NOW + $n);
        }
        self::assertSame('closed', $state->breaker(self::NOW + 4));
        $state = $pacing->failed($state, 'It gives no answer.', self::NOW + 6);
        self::assertSame(['open', 'half-open'], [$state->breaker(self::NOW + 7), $state->breaker(self::NOW + 12)]);
        self::assertSame(4.0, $pacing->pass($state, self::NOW + 7)[1]);
        [$looking, $wait] = $pacing->pass($state, self::NOW + 12);
        self::assertSame(0.0, $wait, 'one looks whether it is back');
        self::assertGreaterThan(0, $pacing->pass($looking, self::NOW + 12)[1], 'and only one');
        $still = $pacing->failed($looking, 'It answers 503.', self::NOW + 13);
        self::assertSame([10.0, 10.0], [(float) $still->openFor, $pacing->pass($still, self::NOW + 13)[1]], 'it is left alone for twice as long');
        [$looking] = $pacing->pass($still, self::NOW + 30);
        $well = $pacing->answered($looking, 200, Allowance::read([], self::NOW), self::NOW + 31);
        self::assertSame(['closed', 0, null, 0], [$well->breaker(self::NOW + 31), $well->failures, $well->failingSince, $well->openFor]);
        self::assertSame('closed', $pacing->closed($still)->breaker(self::NOW + 14), 'it can be closed by hand');
        self::assertEquals($still, PaceState::fromArray((array) json_decode((string) json_encode($still->toArray()), true)), 'it goes through JSON');
    }

    public function test_few_failures_over_long_or_many_at_once_do_not_open_it(): void
    {
        $pacing = new Pacing(new Settings);
        $state = new PaceState;
        for ($n = 0; $n < 20; $n++) {
            $state = $pacing->failed($state, 'x', self::NOW + $n / 10);
        }
        self::assertSame('closed', $state->breaker(self::NOW + 3));
        self::assertSame('open', $pacing->tripped($state, self::NOW + 3)->breaker(self::NOW + 4), 'unless all tries of a request are used up');
        $state = $pacing->answered($state, 404, Allowance::read([], self::NOW), self::NOW + 3);
        self::assertSame(0, $state->failures, 'a service that says no is there');
    }

    /**
     * @return iterable<string, array{int, array<string, int>, int, array<string, int>}>
     */
    public static function shares(): iterable
    {
        yield 'one takes all' => [4, ['a' => 9], 0, ['a' => 4]];
        yield 'one that needs little' => [4, ['a' => 1], 0, ['a' => 1]];
        yield 'even' => [4, ['a' => 9, 'b' => 9], 0, ['a' => 2, 'b' => 2]];
        yield 'what one does not need goes to the other' => [8, ['a' => 1, 'b' => 9], 0, ['a' => 1, 'b' => 7]];
        yield 'more readers than requests' => [2, ['a' => 1, 'b' => 1, 'c' => 1], 0, ['a' => 1, 'b' => 1, 'c' => 0]];
        yield 'they take turns' => [2, ['a' => 1, 'b' => 1, 'c' => 1], 1, ['a' => 0, 'b' => 1, 'c' => 1]];
        yield 'nobody' => [4, [], 0, []];
    }

    /**
     * @param  array<string, int>  $wants
     * @param  array<string, int>  $expected
     */
    #[DataProvider('shares')]
    public function test_requests_at_once_are_divided_fairly(int $atOnce, array $wants, int $turn, array $expected): void
    {
        self::assertSame($expected, Shares::of($atOnce, $wants, $turn));
    }
}
