<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\NoteKind;
use App\Models\SourceDocument;
use App\Models\Upload;
use App\Notes\Cause;
use App\Notes\CauseFinder;
use Illuminate\Support\Carbon;

/**
 * Tables that were not refreshed for a day and more.
 */
final readonly class AgeingTables implements CauseFinder
{
    /** Hours after which a table is called ageing. */
    public const HOURS = 24;

    public function kinds(): array
    {
        return [NoteKind::Ageing];
    }

    public function find(Environment $environment): array
    {
        // A file that was handed in does not grow old by itself.
        $files = Upload::query()->exists() ? SourceDocument::query()->where('document', 'like', '%'.Upload::HOST.'%')->distinct()->pluck('source_id') : [];
        $tables = KeptTable::query()->with('endpoint:id,source_id')->where('is_view', false)->whereHas('endpoint', static fn ($endpoint) => $endpoint->whereNotIn('source_id', $files))->where('environment_id', $environment->id)->where('refreshed_at', '<', Carbon::now()->subHours(self::HOURS))->orderBy('refreshed_at')->get(['id', 'endpoint_id', 'name', 'refreshed_at']);

        return array_values($tables->map(static function (KeptTable $table): Cause {
            $sentence = "Last refreshed on {$table->refreshed_at->format('Y-m-d')} at {$table->refreshed_at->format('H:i')} UTC.";

            return new Cause(NoteKind::Ageing, "t{$table->name}", $table->name, $sentence, route('tables.show', $table->name, false), $table->refreshed_at->copy()->addHours(self::HOURS), $table->endpoint->source_id, $table->endpoint_id, $table->name, $sentence, 'Refresh it, or say under Keep when it is refreshed by itself.', 'Readers see the rows of that time.');
        })->all());
    }
}
