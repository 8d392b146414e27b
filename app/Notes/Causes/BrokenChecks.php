<?php

declare(strict_types=1);

namespace App\Notes\Causes;

use App\Models\CheckOutcome;
use App\Models\CheckResult;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\NoteKind;
use App\Notes\Cause;
use App\Notes\CauseFinder;
use DeepSpring\Check\TableCheck;
use DeepSpring\Value\SafeNames;

/**
 * Rules that the rows in place do not keep, where that is only to be told, or where the rows concerned are left
 * out. One that stops a refresh makes it fail.
 */
final readonly class BrokenChecks implements CauseFinder
{
    public function kinds(): array
    {
        return [NoteKind::Check];
    }

    public function find(Environment $environment): array
    {
        $filled = KeptTable::query()->where('environment_id', $environment->id)->where('is_branch', false)->whereNotNull('run_id')->pluck('run_id');
        $broken = CheckResult::query()->whereIn('run_id', $filled)->where('outcome', CheckOutcome::Broken)->orderBy('id')->get();
        $endpoints = Endpoint::query()->whereIn('id', $broken->pluck('endpoint_id'))->get()->keyBy('id');
        $causes = [];
        foreach ($broken as $result) {
            $table = SafeNames::clean($result->table);
            $since = CheckResult::query()->where(['endpoint_id' => $result->endpoint_id, 'environment_id' => $environment->id, 'mark' => $result->mark])->where('outcome', CheckOutcome::Broken)
                ->where('id', '>', (int) CheckResult::query()->where(['endpoint_id' => $result->endpoint_id, 'environment_id' => $environment->id, 'mark' => $result->mark])->where('outcome', CheckOutcome::Held)->max('id'))->orderBy('id')->value('at');
            $causes[] = new Cause(
                NoteKind::Check, "e{$result->endpoint_id} {$result->mark}", $table, $result->sentence, route('tables.show', $table, false).'#checks', $since ?? $result->at,
                $endpoints[$result->endpoint_id]->source_id ?? null, $result->endpoint_id, $table, $result->sentence,
                $result->acts === TableCheck::DROP ? 'The rows concerned are among the rejects of the run. If they are right, change the check.' : 'Look at the rows concerned. If they are right, change the check.',
                $result->acts === TableCheck::DROP ? 'Readers do not see the rows that break it.' : 'Readers see all rows, those that break it among them.',
            );
        }

        return $causes;
    }
}
