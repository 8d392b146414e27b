<?php

declare(strict_types=1);

namespace App\Pace;

use App\Transport\Sent;
use DeepSpring\Pace\Allowance;
use DeepSpring\Pace\Backoff;
use DeepSpring\Pace\PaceState;
use DeepSpring\Pace\Pacing;
use DeepSpring\Pace\Settings;

/**
 * How fast one reading may go, beside all others of the same source.
 */
final class Pacer
{
    /** What is waited for while the breaker is open. */
    public const BREAKER = 'the source to be back';

    /** Seconds between two looks at what others do. */
    private const LOOK = 1.0;

    /** Likewise, while none of the requests at once is its own. */
    private const LOOK_HUNGRY = 0.15;

    private readonly string $reader;

    private readonly Pacing $pacing;

    private int $slots = 0;

    private float $lookAgain = 0.0;

    private int $wanted = 0;

    private bool $isKnown = false;

    private PaceState $state;

    /**
     * @param  bool  $insists  whether it goes through an open breaker, since a person asked for it
     */
    public function __construct(private readonly RateLimitStore $rates, private readonly int $source, private readonly int $environment, public readonly Settings $settings, private readonly bool $insists = false)
    {
        $this->reader = bin2hex(random_bytes(8));
        $this->pacing = new Pacing($settings);
        $this->state = new PaceState;
    }

    /**
     * How many requests it may have under way.
     *
     * @param  int  $wants  how many it could use
     * @param  int  $underWay  how many it has
     */
    public function atOnce(int $wants, int $underWay): int
    {
        $now = Ticks::now();
        $wants = min($wants, $this->settings->atOnce);
        if ($now >= $this->lookAgain || ! $this->isKnown || $wants > $this->wanted) {
            $this->isKnown = true;
            $this->wanted = $wants;
            $this->slots = $this->rates->share($this->source, $this->environment, $this->settings, $this->reader, max(1, $wants), $underWay);
            $this->state = $this->rates->state($this->source, $this->environment);
            $this->lookAgain = $now + ($this->slots === 0 ? self::LOOK_HUNGRY : self::LOOK);
        }

        return $this->slots;
    }

    /**
     * Reserves a moment for one request.
     *
     * @return array{float, string|null} seconds until it may be sent, and what it waits for
     */
    public function reserve(): array
    {
        $now = microtime(true);
        if ($this->state->openUntil === null && $this->pacing->perMinute($this->state, $now) === null && $this->state->pausedUntil <= $now) {
            return [0.0, null];
        }

        return $this->rates->change($this->source, $this->environment, function (PaceState $state, float $now): array {
            [$state, $closedFor] = $this->insists ? [$state, 0.0] : $this->pacing->pass($state, $now);
            $this->state = $state;
            if ($closedFor > 0) {
                return [$state, [$closedFor, self::BREAKER]];
            }
            [$state, $at] = $this->pacing->take($state, $now);
            $this->state = $state;

            return [$state, [max(0.0, $at - $now), $at > $now + 0.05 ? ($state->pausedUntil > $now ? $state->reason : 'the pace of '.round((float) $this->pacing->perMinute($state, $now)).' requests a minute') : null]];
        }, $this->settings);
    }

    public function answered(Sent $sent): void
    {
        $now = microtime(true);
        $allowance = Allowance::read($sent->headers, $now);
        $passing = $sent->status === null && Backoff::isPassing(null, $sent->failing);
        if ($sent->status === null && ! $passing) {
            return;
        }
        $next = fn (PaceState $state, float $now): PaceState => $sent->status === null
            ? $this->pacing->failed($state, 'It gives no answer.', $now)
            : $this->pacing->answered($state, $sent->status, $allowance, $now);
        // The usual answer changes nothing, and is not worth a look at the database.
        if ($next($this->state, $now) == $this->state) {
            return;
        }
        $this->state = $this->rates->change($this->source, $this->environment, static function (PaceState $state, float $now) use ($next): array {
            $after = $next($state, $now);

            return [$after, $after];
        }, $this->settings);
    }

    /**
     * Opens the breaker: all tries of a request failed.
     *
     * @return int milliseconds until the source is looked at again
     */
    public function trip(): int
    {
        $this->state = $this->rates->change($this->source, $this->environment, function (PaceState $state, float $now): array {
            $after = $this->pacing->tripped($state, $now);

            return [$after, $after];
        }, $this->settings);

        return (int) (1000 * max(0.05, (float) $this->state->openUntil - microtime(true)));
    }

    public function state(): PaceState
    {
        return $this->state;
    }

    public function release(): void
    {
        if ($this->isKnown) {
            $this->isKnown = false;
            $this->rates->release($this->reader);
        }
    }
}
