<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Environment;
use App\Models\NoteKind;
use App\Notes\Cause;
use App\Notes\CauseFinder;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Sources that are not asked any more until they are back.
 */
final readonly class PausedSources implements CauseFinder
{
    public function kinds(): array
    {
        return [NoteKind::Paused];
    }

    public function find(Environment $environment): array
    {
        $all = DB::table('paces')->join('sources', 'sources.id', '=', 'paces.source_id')->where('environment_id', $environment->id)->where('breaker', 'open')->get(['sources.id', 'sources.name', 'sources.slug', 'paces.updated_at']);

        return array_values($all->map(static fn (object $one): Cause => new Cause(
            NoteKind::Paused, "s$one->id", (string) $one->name, 'It has failed for long, so runs wait for it to be back.', route('sources.show', $one->slug, false), Carbon::parse((string) ($one->updated_at ?? 'now'), 'UTC'), (int) $one->id,
            forReaders: 'It has failed for long, so refreshes wait for it to be back.', advice: 'It is asked again by and by. If its address or authentication has changed, say so on the page of the source.', meanwhile: 'Readers see the rows from before.',
        ))->all());
    }
}
