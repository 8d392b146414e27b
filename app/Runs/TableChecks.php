<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\CheckOutcome;
use App\Models\CheckResult;
use App\Models\KeptTable;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Models\RunState;
use App\Pipeline\ReadingFailed;
use App\Reservoir\CheckCount;
use App\Reservoir\CheckedRows;
use App\Reservoir\KeepFailed;
use DeepSpring\Check\Checks;
use DeepSpring\Check\Found;
use DeepSpring\Check\InvalidCheck;
use DeepSpring\Check\TableCheck;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SettingsFingerprint;
use DeepSpring\SourceFile\SourceDefinition;
use DeepSpring\Value\SafeNames;
use Illuminate\Support\Carbon;

/**
 * Looks at new rows before they take the place of those that are kept, and writes down what was found.
 */
final class TableChecks
{
    /** Rows concerned that are kept with a result. */
    private const SHOWN = 50;

    /** Characters of a value of them. */
    private const LONGEST = 300;

    /** Rows that go to the rejects for one check; more are left out, and counted. */
    private const REJECTED = 1000;

    /**
     * What leaves rows out, over what was staged.
     *
     * @return list<array{code: string, sentence: string, doubt: bool}>
     */
    public function leaveOut(RunWork $work): array
    {
        $findings = [];
        $this->forget($work->run);
        foreach ($this->checks($work) as $check) {
            if ($check->on === TableCheck::DROP) {
                array_push($findings, ...$this->drop($work, $work->staged->checked($work->run->environment), $check));
            }
        }

        return $findings;
    }

    /**
     * All others, over what the tables would be.
     *
     * @param  bool  $isIncrement  whether only changes were read, which say themselves what went
     * @return list<array{code: string, sentence: string, doubt: bool}> what is broken and only to be told
     *
     * @throws ReadingFailed where the new rows must not be put in place
     */
    public function look(RunWork $work, CheckedRows $rows, bool $isIncrement = false): array
    {
        $checks = array_values(array_filter($this->checks($work), static fn (TableCheck $one): bool => $one->on !== TableCheck::DROP && ! ($isIncrement && $one->number === null)));
        $findings = $stops = [];
        foreach ($rows->count($checks) as $place => $count) {
            $check = $checks[$place];
            $found = $this->found($work, $check, $count);
            $broken = $count->unknown === null ? $check->check->broken($found) : null;
            $this->remember($work, $check, $count, $found, $broken, $broken === null ? [] : $rows->concerned($check, self::SHOWN));
            if ($count->unknown !== null) {
                $findings[] = ['code' => 'unchecked', 'sentence' => "Not checked: {$check->check->words()}. $count->unknown", 'doubt' => false];
            } elseif ($broken !== null && $check->on === TableCheck::STOP && ! $work->run->takes_any) {
                $stops[] = $broken;
            } elseif ($broken !== null) {
                $isTaken = $check->on === TableCheck::STOP;
                $findings[] = ['code' => 'check', 'sentence' => $broken.($isTaken ? ' They were put in place all the same, as was asked.' : ''), 'doubt' => ! $isTaken];
            }
        }

        return $stops === [] ? $findings : throw ReadingFailed::because(new Diagnosis('check', implode(' ', $stops), 'The tables are as they were. If the rows are right, say so on the page of the run; the rules stand under Keep.', 'keep'));
    }

    /**
     * @return list<TableCheck>
     *
     * @throws KeepFailed
     */
    private function checks(RunWork $work): array
    {
        try {
            return Checks::all($work->endpoint->endpoint['keep']['checks'] ?? [], $work->plan, $work->run->created_at->toDateTimeImmutable());
        } catch (InvalidCheck $invalid) {
            throw KeepFailed::because("A check cannot be made: {$invalid->getMessage()} Mend it under Keep, then publish.");
        }
    }

    private function found(RunWork $work, TableCheck $check, CheckCount $count): Found
    {
        $now = Carbon::now()->toDateTimeImmutable();

        return new Found($check->table, $count->rows, $count->broken, $now, $count->looked, $count->newest, $this->rowsBefore($work->run, $work->endpoint, $work->source, SafeNames::clean($check->table)));
    }

    /**
     * @return list<array{code: string, sentence: string, doubt: bool}>
     */
    private function drop(RunWork $work, CheckedRows $rows, TableCheck $check): array
    {
        $count = $rows->count([$check])[0];
        $found = $this->found($work, $check, $count);
        $broken = $count->unknown === null ? $check->check->broken($found) : null;
        $concerned = $broken === null ? [] : $rows->concerned($check, self::REJECTED);
        $this->remember($work, $check, $count, $found, $broken, array_slice($concerned, 0, self::SHOWN));
        if ($count->unknown !== null) {
            return [['code' => 'unchecked', 'sentence' => "Not checked: {$check->check->words()}. $count->unknown", 'doubt' => false]];
        }
        if ($broken === null) {
            return [];
        }
        $this->reject($work, $check, $concerned);
        $left = $rows->leaveOut($check);
        $work->run->rejects += $left;

        return [['code' => 'dropped', 'sentence' => "$broken ".($left === 1 ? 'It was' : 'They were').' left out'.($left > self::REJECTED ? '; '.self::REJECTED.' of them are among the rejects' : ' and '.($left === 1 ? 'is' : 'are').' among the rejects').'.', 'doubt' => false]];
    }

    /**
     * @param  list<array<string, string|null>>  $rows
     */
    private function reject(RunWork $work, TableCheck $check, array $rows): void
    {
        $key = array_column($work->plan->tables(), 'key', 'name')[$check->table] ?? [];
        $reason = mb_substr("breaks a check: {$check->check->words()}", 0, 300);
        foreach (array_chunk($rows, 100) as $some) {
            RejectedValue::query()->insert(array_map(static fn (array $row): array => [
                'run_id' => $work->run->id, 'page' => 0, 'table' => $check->table, 'column' => $check->check->columns()[0] ?? '', 'path' => 'the row, after all pages were read',
                'record_key' => mb_substr(implode(', ', array_map(static fn (string $name): string => "$name ".($row[$name] ?? ''), $key)), 0, 200),
                'value' => json_encode($row, JSON_THROW_ON_ERROR | JSON_UNESCAPED_UNICODE | JSON_UNESCAPED_SLASHES), 'reason' => $reason, 'whole_record' => true,
            ], $some));
        }
    }

    /**
     * What an earlier process of the same run found.
     */
    private function forget(Run $run): void
    {
        CheckResult::query()->where('run_id', $run->id)->delete();
    }

    /**
     * @param  list<array<string, string|null>>  $concerned
     */
    private function remember(RunWork $work, TableCheck $check, CheckCount $count, Found $found, ?string $broken, array $concerned): void
    {
        if ($check->number === null && $broken === null) {
            return;
        }
        $short = static fn (?string $value): ?string => $value === null ? null : mb_strimwidth($value, 0, self::LONGEST, '…', 'UTF-8');
        CheckResult::query()->create([
            'run_id' => $work->run->id, 'endpoint_id' => $work->run->endpoint_id, 'environment_id' => $work->run->environment_id, 'table' => $check->table, 'mark' => $check->mark,
            'words' => mb_substr($check->check->words(), 0, 1000), 'acts' => $check->on, 'broken' => $count->broken, 'rows' => $count->rows, 'at' => Carbon::now(),
            'outcome' => match (true) {
                $count->unknown !== null => CheckOutcome::Unknown, $broken !== null => CheckOutcome::Broken, default => CheckOutcome::Held,
            },
            'sentence' => mb_substr($count->unknown ?? $broken ?? $check->check->held($found), 0, 1000),
            'concerned' => $concerned === [] ? null : array_map(static fn (array $row): array => array_map($short, $row), $concerned),
        ]);
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
