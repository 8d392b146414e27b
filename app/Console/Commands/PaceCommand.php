<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Pace\RateLimitStore;
use DeepSpring\Pace\Pacing;

final class PaceCommand extends SpringCommand
{
    protected $signature = 'spring:pace {source : Its short name} {--close : Resume requests} {--environment= : Environment}';

    protected $description = 'Says how fast a source may be asked now, and whether requests to it are paused';

    public function work(RateLimitStore $rates): int
    {
        $source = $this->source((string) $this->argument('source'));
        $environment = $this->environmentOf($source);
        $settings = $source->current()->source()->pace;
        if ($this->option('close')) {
            $rates->close($source->id, $environment->id, $settings);
        }
        $state = $rates->state($source->id, $environment->id);
        $pacing = new Pacing($settings);
        $now = microtime(true);
        $perMinute = $pacing->perMinute($state, $now);
        $this->giveLine(implode("\t", [$source->slug, $environment->slug, $perMinute === null ? 'no limit a minute' : round($perMinute).' a minute', $pacing->atOnce($state).' at once', 'breaker '.$state->breaker($now), $state->pausedUntil > $now ? 'paused until '.gmdate('H:i:s', (int) $state->pausedUntil) : 'not paused', (string) ($state->reason ?? $state->lastFailure ?? '')]));

        return self::DONE;
    }
}
