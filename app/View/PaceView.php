<?php

declare(strict_types=1);

namespace App\View;

use App\Pace\RateLimitStore;
use DeepSpring\Pace\Pacing;
use DeepSpring\Pace\Settings;
use DeepSpring\Value\Phrase;

/**
 * How fast a source may be asked at this moment, in words.
 */
final readonly class PaceView
{
    /** Why it is left alone; null while it is not. */
    public ?string $leftAlone;

    /** When requests go out again. */
    public string $until;

    /** @var array{string, string}|null why it is slower than it was set: a title and the reason */
    public ?array $slowed;

    public string $summary;

    /**
     * @param  array<string, mixed>  $pace  of a source file
     */
    public function __construct(RateLimitStore $rates, int $source, int $environment, array $pace, float $now)
    {
        $settings = Settings::of($pace);
        $pacing = new Pacing($settings);
        $state = $rates->state($source, $environment);
        $breaker = $state->breaker($now);
        $perMinute = $pacing->perMinute($state, $now);
        $atOnce = $pacing->atOnce($state);
        $at = static fn (?float $moment): string => Show::clock((int) $moment).' '.Show::zone();
        $this->leftAlone = $breaker === 'closed' ? null : "It has failed since {$at($state->failingSince)}, ".Show::count($state->failures, 'time').' in a row. '.$state->lastFailure;
        $this->until = ($breaker === 'open' ? "Runs wait until {$at($state->openUntil)}; then one request looks whether it is back." : 'One request is looking whether it is back.').' A try goes through at any time.';
        $this->slowed = match (true) {
            $breaker !== 'closed' => null,
            $state->pausedUntil > $now => ["Paused until {$at($state->pausedUntil)}.", (string) $state->reason],
            $perMinute !== null && $perMinute < ($settings->perMinute ?? INF) => ['Slowed to '.Phrase::count((int) round($perMinute), 'request').' a minute.', (string) $state->reason],
            $atOnce < $settings->atOnce => ['Slowed to '.Show::count($atOnce, 'request').' at once.', "$state->reason It goes back up by itself."],
            default => null,
        };
        $readers = $rates->readers($source, $environment);
        $this->summary = ($perMinute === null ? 'Nothing limits the requests a minute' : Phrase::count((int) round($perMinute), 'request').' a minute').", $atOnce at once, all runs and people together. "
            .($readers === 0 ? 'Nobody reads from it now.' : Show::count($readers, 'reading is', 'readings are').' under way.')
            .($breaker === 'closed' && $state->failures > 0 ? ' '.Show::count($state->failures, 'failure').' in a row so far.' : '');
    }
}
