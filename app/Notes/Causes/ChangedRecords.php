<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Drift;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\NoteKind;
use App\Notes\Cause;
use App\Notes\CauseFinder;

/**
 * Records that are not what they had been, where nobody has answered that yet.
 */
final readonly class ChangedRecords implements CauseFinder
{
    public function kinds(): array
    {
        return [NoteKind::Drift];
    }

    public function find(Environment $environment): array
    {
        $causes = [];
        $tables = KeptTable::query()->where('environment_id', $environment->id)->orderBy('is_branch')->orderBy('id')->get(['endpoint_id', 'name'])->groupBy('endpoint_id');
        $drifts = Drift::open($environment)->get()->groupBy('endpoint_id');
        $endpoints = Endpoint::query()->whereIn('id', $drifts->keys())->get()->keyBy('id');
        foreach ($drifts as $endpoint => $all) {
            $first = $all->firstOrFail();
            $table = $tables->get($endpoint)?->first()?->name;
            if ($table !== null) {
                $causes[] = new Cause(
                    NoteKind::Drift, "e$endpoint", $table, $first->sentence.($all->count() > 1 ? ' And '.($all->count() - 1).' more.' : ''), route('tables.show', $table, false), $first->created_at,
                    $endpoints[$endpoint]->source_id ?? null, (int) $endpoint, $table, advice: 'Say on the page of the table what is to become of each.',
                );
            }
        }

        return $causes;
    }
}
