<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Environment;
use App\Models\NoteKind;
use App\Models\QueryKeep;
use App\Notes\Cause;
use App\Notes\CauseFinder;

/**
 * Views of queries that cannot be read any more.
 */
final readonly class BrokenViews implements CauseFinder
{
    public function kinds(): array
    {
        return [NoteKind::View];
    }

    public function find(Environment $environment): array
    {
        $broken = QueryKeep::query()->with('source')->where(['environment_id' => $environment->id, 'is_view' => true])->whereNot('fault', null)->get();

        return array_values($broken->map(static fn (QueryKeep $keep): Cause => new Cause(
            NoteKind::View, "v$keep->id", $keep->name, (string) $keep->fault, route('queries.show', $keep->query_id, false), $keep->updated_at, $keep->source_id, null, $keep->name,
            'The view cannot be read.', 'Open its query and save one that runs.', 'Whatever reads it fails.',
        ))->all());
    }
}
