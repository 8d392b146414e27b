<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Pipeline\ReadingFailed;
use DeepSpring\Check\RowCount;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SettingsFingerprint;
use DeepSpring\SourceFile\SourceDefinition;

/**
 * Looks at the number of new rows before they take the place of those that are kept.
 */
final class RowChecks
{
    /**
     * @param  string  $table  the main one
     * @param  int  $rows  that it would have
     * @return list<array{code: string, sentence: string, doubt: bool}> what is broken and only to be told
     *
     * @throws ReadingFailed where the new rows must not be put in place
     */
    public function findings(Run $run, EndpointDefinition $endpoint, SourceDefinition $source, string $table, int $rows): array
    {
        $before = $this->rowsBefore($run, $endpoint, $source, $table);
        $findings = [];
        foreach (RowCount::all($endpoint->endpoint['keep']['checks'] ?? []) as $check) {
            $broken = $check->broken($table, $before, $rows);
            if ($broken === null) {
                continue;
            }
            if ($check->on === RowCount::STOP && ! $run->takes_any) {
                throw ReadingFailed::because(new Diagnosis('check', $broken, 'The tables are as they were. If that is the right number, say so on the page of the run; the limit stands under Keep.', 'keep'));
            }
            $findings[] = ['code' => 'check', 'sentence' => $broken.($run->takes_any ? ' They were put in place all the same, as was asked.' : ''), 'doubt' => ! $run->takes_any];
        }

        return $findings;
    }

    /**
     * Rows that are kept, where they were made of what is asked for now; where something else is asked for, another
     * number is nothing to wonder at.
     */
    private function rowsBefore(Run $run, EndpointDefinition $endpoint, SourceDefinition $source, string $table): ?int
    {
        $where = ['endpoint_id' => $run->endpoint_id, 'environment_id' => $run->environment_id];
        $kept = KeptTable::query()->where($where)->where('name', $table)->first();
        $last = $kept === null ? null : Run::query()->where($where)->where('kind', '!=', 'try')->where('state', RunState::Done)->where('id', '<', $run->id)->latest('id')->first();
        if ($kept === null || $last === null) {
            return null;
        }
        if ($last->version !== $run->version) {
            $file = $run->endpoint->source->documents()->where('version', $last->version)->first()?->file();
            $then = $file?->endpoint($endpoint->slug);
            $print = static fn (EndpointDefinition $of, SourceDefinition $its): string => SettingsFingerprint::ofTable($of->endpoint, $its, $run->environment->slug);
            if ($file === null || $then === null || $print($then, $file->source()) !== $print($endpoint, $source)) {
                return null;
            }
        }

        return $kept->rows;
    }
}
