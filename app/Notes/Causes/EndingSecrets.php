<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Environment;
use App\Models\NoteKind;
use App\Models\Secret;
use App\Notes\Cause;
use App\Notes\CauseFinder;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Carbon;

/**
 * Secrets that end within two weeks, or have ended.
 */
final readonly class EndingSecrets implements CauseFinder
{
    /** Days before the end. */
    public const DAYS = 14;

    public function kinds(): array
    {
        return [NoteKind::Secret];
    }

    public function find(Environment $environment): array
    {
        $causes = [];
        foreach (Secret::query()->with('source')->where('environment_id', $environment->id)->whereNotNull('ends_on')->where('ends_on', '<=', Carbon::now()->addDays(self::DAYS))->orderBy('ends_on')->get() as $secret) {
            $days = (int) Carbon::now()->startOfDay()->diffInDays($secret->ends_on, false);
            $causes[] = new Cause(
                NoteKind::Secret, "s{$secret->source_id} {$secret->name}", $secret->source->name, "Its secret \"$secret->name\" ".($days < 0 ? 'ended' : 'ends').' on '.$secret->ends_on?->format('Y-m-d').($days < 0 ? '.' : ($days === 0 ? ', today.' : ', in '.Phrase::count($days, 'day').'.')),
                route('sources.show', [$secret->source, 'secret' => $secret->name], false).'#secret-form', Carbon::parse($secret->ends_on)->subDays(self::DAYS), $secret->source_id, advice: 'Give a new one before that; the old one is used until the new one is accepted.',
            );
        }

        return $causes;
    }
}
