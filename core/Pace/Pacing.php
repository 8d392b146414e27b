<?php

declare(strict_types=1);

namespace DeepSpring\Pace;

/**
 * From one state to the next. The bucket is kept as the moment at which it would be full again (the
 * generic cell rate algorithm): what was taken and what flowed in are one number, so that many
 * workers can share it with one row.
 */
final readonly class Pacing
{
    /** Of the requests a minute, the part that flows in steadily; the rest is margin for the way. */
    private const STEADY = 0.968;

    /** Of the requests a minute, the part that may be sent in one go. */
    private const BURST = 0.016;

    /** Failures in a row, and seconds of failing, after which the breaker opens. */
    private const FAILURES = 5;

    private const FAILING = 5.0;

    /** Of what the API allows, the part (one in so many) from which on the rest is spread over its time. */
    private const PLENTY = 4;

    private const OPEN = 5;

    private const OPEN_MOST = 300;

    /** Seconds that a service can ask to be waited for. */
    private const LONGEST = 3600.0;

    /** Seconds that the queue for a bucket can be long, or as many requests as wait for it at most. */
    private const AHEAD = 60.0;

    private const WAITERS = 100;

    public function __construct(private Settings $settings)
    {
    }

    /**
     * Requests a minute that hold now; null when nothing limits them.
     */
    public function perMinute(PaceState $state, float $now): ?float
    {
        $said = $state->perMinute !== null && $now < $state->perMinuteUntil ? $state->perMinute : null;
        $set = $this->settings->perMinute;

        return match (true) {
            $said === null => $set,
            $set === null => $said,
            default => min($said, $set),
        };
    }

    public function atOnce(PaceState $state): int
    {
        return max(1, (int) min($this->settings->atOnce, $state->atOnce ?? $this->settings->atOnce));
    }

    /**
     * The state with everything put right that lies further ahead than it ever can: a clock that was
     * ahead and went back must not keep anybody waiting.
     */
    public function righted(PaceState $state, float $now): PaceState
    {
        $perMinute = min($state->perMinute ?? INF, $this->settings->perMinute ?? INF);
        $queue = $perMinute === INF ? self::AHEAD : max(self::AHEAD, self::WAITERS * 60 / max(0.001, $perMinute * self::STEADY));
        $changes = [];
        if ($state->fullAt > $now + $queue) {
            $changes['fullAt'] = $now;
        }
        if ($state->pausedUntil > $now + self::LONGEST) {
            $changes += ['pausedUntil' => 0.0, 'reason' => null];
        }
        if ($state->perMinuteUntil > $now + 2 * self::LONGEST) {
            $changes += ['perMinute' => null, 'perMinuteUntil' => 0.0];
        }
        if ($state->openUntil !== null && $state->openUntil > $now + self::OPEN_MOST) {
            // Whether it is back is looked at now.
            $changes += ['openUntil' => $now, 'isLooking' => false];
        }
        if ($state->failingSince !== null && $state->failingSince > $now) {
            $changes['failingSince'] = $now;
        }

        return $changes === [] ? $state : $state->but($changes);
    }

    /**
     * Takes one request from the bucket.
     *
     * @return array{PaceState, float} the state after it, and when it may be sent
     */
    public function take(PaceState $state, float $now): array
    {
        $perMinute = $this->perMinute($state, $now);
        $earliest = max($now, $state->pausedUntil);
        if ($perMinute === null) {
            return [$state, $earliest];
        }
        $gap = 60 / max(0.001, $perMinute * self::STEADY);
        $burst = max(0.0, floor($perMinute * self::BURST) - 1) * $gap;
        $at = max($earliest, $state->fullAt - $burst);

        return [$state->but(['fullAt' => max($earliest, $state->fullAt) + $gap]), $at];
    }

    /**
     * What an answer changes.
     */
    public function answered(PaceState $state, int $status, Allowance $allowance, float $now): PaceState
    {
        if ($status === 429 || $status === 503 && $allowance->retryAfter !== null) {
            return $this->refused($status === 503 ? $this->failed($state, 'It answers 503.', $now) : $state, $status, $allowance, $now);
        }
        if (in_array($status, [500, 502, 503, 504], true)) {
            return $this->failed($state, "It answers $status.", $now);
        }
        $state = $state->failures === 0 && $state->openUntil === null ? $state : $state->but(['failures' => 0, 'failingSince' => null, 'openUntil' => null, 'openFor' => 0, 'isLooking' => false, 'lastFailure' => null]);
        if ($state->atOnce !== null) {
            // Back up by one for every so many successes.
            $more = $state->atOnce + 1 / (8 * max(1.0, $state->atOnce));
            $state = $state->but(['atOnce' => $more >= $this->settings->atOnce ? null : $more]);
        }

        return $this->heeded($state, $allowance, $now);
    }

    /**
     * No answer, or one that says that the service itself is in trouble.
     */
    public function failed(PaceState $state, string $what, float $now): PaceState
    {
        $failures = $state->failures + 1;
        $since = $state->failingSince ?? $now;
        $failed = $state->but(['failures' => $failures, 'failingSince' => $since, 'lastFailure' => $what]);
        if ($state->isLooking) {
            return $this->opened($failed, $now);
        }

        return $state->openUntil === null && $failures >= self::FAILURES && $now - $since >= self::FAILING ? $this->opened($failed, $now) : $failed;
    }

    /**
     * All tries of a request failed, whatever others met.
     */
    public function tripped(PaceState $state, float $now): PaceState
    {
        return $state->openUntil !== null && $now < $state->openUntil && ! $state->isLooking ? $state : $this->opened($state->but(['failingSince' => $state->failingSince ?? $now]), $now);
    }

    private function opened(PaceState $state, float $now): PaceState
    {
        $for = min(self::OPEN_MOST, max(self::OPEN, $state->openFor * 2));

        return $state->but(['openFor' => $for, 'openUntil' => $now + $for, 'isLooking' => false]);
    }

    /**
     * Whether a request may leave as far as the breaker is concerned: seconds to wait, nought for
     * now. The first to ask after the time is up looks for all; the others wait for what it finds.
     *
     * @return array{PaceState, float}
     */
    public function pass(PaceState $state, float $now): array
    {
        if ($state->openUntil === null) {
            return [$state, 0.0];
        }
        if ($now < $state->openUntil) {
            return [$state, $state->openUntil - $now];
        }

        return [$state->but(['openUntil' => $now + max(self::OPEN, min(30, $this->settings->timeout)), 'isLooking' => true]), 0.0];
    }

    public function closed(PaceState $state): PaceState
    {
        return $state->but(['failures' => 0, 'failingSince' => null, 'openUntil' => null, 'openFor' => 0, 'isLooking' => false, 'lastFailure' => null, 'pausedUntil' => 0.0, 'reason' => null, 'perMinute' => null, 'perMinuteUntil' => 0.0, 'atOnce' => null]);
    }

    private function refused(PaceState $state, int $status, Allowance $allowance, float $now): PaceState
    {
        $wait = $allowance->retryAfter ?? ($allowance->remaining === 0 ? $allowance->resetIn : null) ?? 1.0;
        $until = max($state->pausedUntil, $now + min(self::LONGEST, $wait));
        // Answers to requests that left together count once.
        $atOnce = $state->pausedUntil > $now ? $state->atOnce : max(1.0, ($state->atOnce ?? $this->settings->atOnce) / 2);

        return $this->heeded($state->but(['pausedUntil' => $until, 'atOnce' => $atOnce, 'reason' => "It answered $status: ".($allowance->retryAfter !== null ? 'it asked to wait '.self::seconds($allowance->retryAfter) : 'it asked to slow down').'.']), $allowance, $now);
    }

    /**
     * What the API says is left is spread over the time that it is for.
     */
    private function heeded(PaceState $state, Allowance $allowance, float $now): PaceState
    {
        if ($allowance->remaining === null || $allowance->resetIn === null) {
            if ($allowance->limit !== null && $allowance->window !== null && $allowance->window > 0) {
                return $state->but(['perMinute' => $allowance->limit * 60 / $allowance->window, 'perMinuteUntil' => $now + 2 * $allowance->window, 'reason' => $state->pausedUntil > $now ? $state->reason : "It says {$allowance->limit} requests in {$allowance->window} s."]);
            }

            return $state;
        }
        $reset = min(self::LONGEST, max(0.0, $allowance->resetIn));
        if ($allowance->remaining === 0) {
            return $state->but(['pausedUntil' => max($state->pausedUntil, $now + $reset), 'reason' => 'It says that no requests are left for '.self::seconds($reset).'.']);
        }
        if ($reset < 1 || $allowance->remaining > ($allowance->limit !== null ? $allowance->limit / self::PLENTY : 100)) {
            return $state;
        }

        return $state->but(['perMinute' => max(1.0, $allowance->remaining * 60 / $reset), 'perMinuteUntil' => $now + $reset, 'reason' => $state->pausedUntil > $now ? $state->reason : "It says that {$allowance->remaining} requests are left for ".self::seconds($reset).'.']);
    }

    private static function seconds(float $seconds): string
    {
        return $seconds >= 120 ? round($seconds / 60).' min' : round($seconds, $seconds < 10 ? 1 : 0).' s';
    }
}
