<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\NoteKind;
use App\Models\Run;
use App\Notes\Cause;
use App\Notes\CauseFinder;

/**
 * Tables that were filled by a run which found that something may be missing. What checks found has notes of its own.
 */
final readonly class DoubtfulRows implements CauseFinder
{
    public function kinds(): array
    {
        return [NoteKind::Doubt];
    }

    public function find(Environment $environment): array
    {
        $tables = KeptTable::query()->where('environment_id', $environment->id)->where('is_branch', false)->whereNotNull('run_id')->get(['run_id', 'name'])->keyBy('run_id');
        $causes = [];
        foreach (Run::query()->with('endpoint')->whereIn('id', $tables->keys())->whereNotNull('findings')->get() as $run) {
            foreach (array_filter($run->findings ?? [], static fn (array $one): bool => $one['doubt'] && $one['code'] !== 'check') as $finding) {
                $causes[] = new Cause(
                    NoteKind::Doubt, "e{$run->endpoint_id} {$finding['code']}", $run->endpoint->name, $finding['sentence'], route('runs.show', $run, false), $run->ended_at ?? $run->created_at,
                    $run->endpoint->source_id, $run->endpoint_id, $tables[$run->id]->name ?? null, $finding['sentence'], 'Read it again, or look at the run for what was seen.', 'Readers see the rows that came.',
                );
            }
        }

        return $causes;
    }
}
