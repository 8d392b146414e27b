<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Environment;
use App\Models\NoteKind;
use App\Models\Source;
use App\Models\Tryout;
use App\Notes\Cause;
use App\Notes\CauseFinder;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Sources whose last try failed, or waits for a consent.
 */
final readonly class RefusedSources implements CauseFinder
{
    public function kinds(): array
    {
        return [NoteKind::Source, NoteKind::Consent];
    }

    public function find(Environment $environment): array
    {
        $last = Tryout::query()->where('environment_id', $environment->id)->groupBy('source_id')->select(DB::raw('max(id)'));
        $refused = Tryout::query()->whereIn('id', $last)->where('succeeded', false)->get();
        $names = Source::query()->whereKey($refused->pluck('source_id'))->get(['id', 'name', 'slug'])->keyBy('id');
        $causes = [];
        foreach ($refused as $try) {
            $source = $names->get($try->source_id);
            if ($source !== null) {
                $causes[] = new Cause(
                    ($try->diagnosis['code'] ?? '') === 'consent' ? NoteKind::Consent : NoteKind::Source, "s{$source->id}", $source->name, $try->diagnosis['what'] ?? 'The last try failed.',
                    route('sources.show', $source, false), $this->since($try), $source->id, advice: $try->diagnosis['advice'] ?? null,
                );
            }
        }

        return $causes;
    }

    /**
     * The first try that failed since one succeeded.
     */
    private function since(Tryout $try): Carbon
    {
        $of = Tryout::query()->where('source_id', $try->source_id)->where('environment_id', $try->environment_id);

        return $of->clone()->where('succeeded', false)->where('id', '>', (int) $of->clone()->where('succeeded', true)->max('id'))->orderBy('id')->first(['id', 'created_at'])->created_at ?? $try->created_at;
    }
}
