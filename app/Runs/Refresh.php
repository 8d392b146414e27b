<?php

declare(strict_types=1);

namespace App\Runs;

use App\Evidence\EvidenceWriter;
use App\Models\Run;
use App\Models\RunState;
use App\Pipeline\LookupSettings;
use App\Pipeline\ReadingFailed;
use App\Pipeline\Replace;
use App\Pipeline\Sink;
use App\Reservoir\ConnectionLost;
use App\Reservoir\KeepFailed;
use App\Reservoir\RunSuperseded;
use App\Reservoir\TableStore;
use App\Secrets\Vault;
use DeepSpring\Ask\InputSets;
use DeepSpring\Ask\InvalidInput;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Flatten\Mask\Concealing;
use DeepSpring\Flatten\Plan;
use DeepSpring\Increment\InvalidIncrement;
use DeepSpring\SourceFile\EndpointDefinition;
use Illuminate\Database\LostConnectionDetector;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * The life of a run: it is taken by one process, put together, read, and ended in one of the ways there are.
 * Whatever stops it leaves the tables as they were, and what was read so far for a later process to go
 * on from.
 */
final class Refresh
{
    /** Seconds that a database that went away is waited for. */
    private const DATABASE = 120;

    /** Processes of the database that a run may lose. */
    private const ATTEMPTS = 20;

    public function __construct(
        private readonly TableStore $store,
        private readonly Vault $vault,
        private readonly EvidenceWriter $evidence,
        private readonly KeptTables $tables,
        private readonly TableIndexing $indexes,
        private readonly TableChecks $checks,
        private readonly TableStates $states,
        private readonly LookupReading $lookups,
        private readonly WholeReading $whole,
        private readonly ChangesReading $changes,
        private readonly IncrementReading $increments,
        private readonly RebuildReading $rebuild,
        private readonly StatementReading $statements,
    ) {
    }

    /**
     * Works for a run that waits, unless another process was quicker.
     *
     * @param  (\Closure(Run): void)|null  $progress  told after every page
     */
    public function run(Run $run, ?\Closure $progress = null): Run
    {
        for ($left = self::ATTEMPTS; $left > 0 && $this->take($run); $left--) {
            try {
                $this->attempt($run, $progress);

                break;
            } catch (RunSuperseded) {
                // By another process, or by somebody who deleted the endpoint.
                return Run::query()->find($run->id) ?? $run;
            } catch (ConnectionLost $lost) {
                $this->awaitDatabase($run);
            }
        }
        $run->refresh();
        if ($progress !== null) {
            $progress($run);
        }

        return $run;
    }

    /**
     * From waiting to reading, in one statement, so that of several processes one does it.
     */
    private function take(Run $run): bool
    {
        $now = Carbon::now()->format('Y-m-d H:i:s.u');
        $taken = DB::table('runs')->where('id', $run->id)->where('state', RunState::Queued->value)->update([
            'state' => RunState::Running->value, 'attempt' => DB::raw('attempt + 1'), 'heartbeat_at' => $now,
            'started_at' => DB::raw("coalesce(started_at, '$now')"), 'waits_for' => null, 'stop_how' => null,
        ]);
        $run->refresh();

        return $taken === 1;
    }

    /**
     * @throws ConnectionLost
     * @throws RunSuperseded
     */
    private function attempt(Run $run, ?\Closure $progress): void
    {
        $recorder = new RunRecorder($run, $this->evidence);
        $sink = null;
        $keeps = false;
        try {
            $work = $this->work($run, $recorder, $progress);
            $sink = match (true) {
                $run->isRebuild() || $run->endpoint->source->of_query => new Replace($work->staged, $run->id, $run->attempt),
                $work->lookup !== null => $this->lookups->sink($work),
                default => $this->whole->sink($work),
            };
            if (! $run->isTry()) {
                $this->tables->refuseForeign($work->staged, $run->endpoint, $run->environment);
            }
            $keeps = $this->read($work, $sink);
        } catch (ConnectionLost|RunSuperseded $gone) {
            $keeps = true;

            throw $gone;
        } catch (\Throwable $failed) {
            if ((new LostConnectionDetector)->causedByLostConnection($failed)) {
                $keeps = true;

                throw ConnectionLost::because($failed->getMessage());
            }
            $keeps = $run->continuable && ! RunFailure::wouldRepeat($failed);
            $this->fail($run, $recorder, $failed);
        } finally {
            $this->quietly(static fn () => $sink?->end($keeps), $keeps);
        }
        if (! $keeps) {
            $run->continuable = false;
        }
        $run->fill(['ended_at' => Carbon::now(), 'active' => null, 'waits_for' => null]);
        $recorder->save(true);
        if ($recorder->isGone) {
            throw new RunSuperseded;
        }
    }

    /**
     * @return bool whether what was read stays for a later process
     */
    private function read(RunWork $work, Sink $sink): bool
    {
        $left = $sink->begin();
        if ($sink instanceof Replace && $work->run->endpoint->source->of_query) {
            $this->statements->read($work, $sink);

            return false;
        }
        if ($sink instanceof Replace && $work->run->isRebuild()) {
            $this->rebuild->read($work, $sink);

            return false;
        }
        if ($work->lookup !== null) {
            return $this->lookups->read($work, $work->lookup, $sink, $left);
        }
        if ($left === null && ($this->changes->read($work) || $this->increments->read($work))) {
            return false;
        }

        return $this->whole->read($work, $sink, $left);
    }

    /**
     * The endpoint as it stands in a draft that is not published; null when there is none.
     */
    private function drafted(Run $run): ?EndpointDefinition
    {
        return $run->endpoint->source->draft()?->file()->endpoint($run->endpoint->slug);
    }

    /**
     * @throws KeepFailed
     * @throws ReadingFailed
     */
    private function work(Run $run, RunRecorder $recorder, ?\Closure $progress): RunWork
    {
        $file = $run->file();
        $endpoint = $file->endpoint($run->endpoint->slug) ?? throw KeepFailed::because("The published version has no endpoint {$run->endpoint->slug}".($this->drafted($run) === null ? '.' : '; only the draft has it. Publish the draft, then refresh.'));
        if ($endpoint->does()->writes()) {
            throw KeepFailed::because("{$endpoint->name} writes. A table is read again and again, so it is kept only from what reads; if this only reads, say so under Ask: it lists, or gets one.");
        }
        // A long try needs no columns: then it only counts records.
        $plan = $endpoint->plan($run->created_at->toDateTimeImmutable()) ?? ($run->isTry()
            ? Plan::of(['table' => 'records', 'columns' => [['name' => 'record', 'from' => '$', 'type' => 'json']]])
            : throw KeepFailed::because(! isset($this->drafted($run)->endpoint['flatten']) ? 'No columns are chosen yet. Choose them under Flatten, then publish.'
                : 'The published version has no columns; only the draft has them'.(isset($endpoint->endpoint['entity_set']) ? ', since the metadata of the service was read after that was published' : '').'. Publish the draft, then refresh.'));
        $recorder->conceal = $plan->isMasked() ? (new Concealing($plan, $endpoint->answer(), $this->vault->masks()))->body(...) : null;

        return new RunWork($run, $file->source(), $endpoint, $plan, $this->sets($run, $endpoint), $this->store->stage($run->environment, $run->owner(), $plan), $recorder, $this->vault->masks(), $this->tables, $this->indexes, $this->checks, $this->states, $progress, $run->isTry() ? null : $this->increment($endpoint, $plan), $run->isTry() ? null : $this->lookup($endpoint, $plan));
    }

    /**
     * @throws KeepFailed
     */
    private function lookup(EndpointDefinition $endpoint, Plan $plan): ?LookupSettings
    {
        try {
            return LookupSettings::of($endpoint, $plan);
        } catch (InvalidInput $invalid) {
            throw KeepFailed::because($invalid->getMessage());
        }
    }

    /**
     * @throws KeepFailed
     */
    private function increment(EndpointDefinition $endpoint, Plan $plan): ?IncrementSettings
    {
        try {
            return IncrementSettings::of($endpoint, $plan);
        } catch (InvalidIncrement $invalid) {
            throw KeepFailed::because($invalid->getMessage());
        }
    }

    /**
     * A long try is read with the values to try with, everything else with what is said under Keep.
     *
     * @throws ReadingFailed when a value is missing
     */
    private function sets(Run $run, EndpointDefinition $endpoint): InputSets
    {
        try {
            $sets = $run->isTry() ? InputSets::ofOne($endpoint->ask(), $endpoint->ask()->tryValues()) : $endpoint->keptWith();
        } catch (InvalidInput $invalid) {
            throw ReadingFailed::because(new Diagnosis('inputs', $invalid->getMessage(), 'Nothing was sent.', 'keep'));
        }
        $faults = $run->isTry() ? [] : $sets->faults();
        if ($faults !== []) {
            $first = reset($faults);

            throw ReadingFailed::because(new Diagnosis('inputs', $first->getMessage(), 'Say under Keep what the table is read with. Test values are for trying only. Nothing was sent; the tables are as they were.', 'keep'));
        }

        return $sets;
    }

    private function fail(Run $run, RunRecorder $recorder, \Throwable $failed): void
    {
        if (RunFailure::isOurs($failed)) {
            report($failed);
        }
        $diagnosis = RunFailure::diagnosis($failed);
        $run->fill(['state' => RunState::Failed, 'diagnosis' => $diagnosis->toArray(), 'rows' => 0]);
        $recorder->log(1, null, $diagnosis->code, "{$diagnosis->what} {$diagnosis->advice}");
    }

    /**
     * Until the database answers again; then the run waits to be gone on with.
     */
    private function awaitDatabase(Run $run): void
    {
        for ($until = microtime(true) + self::DATABASE; ; usleep(500_000)) {
            try {
                $this->store->reconnect();
                DB::connection('app')->reconnect();
                DB::table('runs')->where('id', $run->id)->where('attempt', $run->attempt)->where('state', RunState::Running->value)->update(['state' => RunState::Queued->value]);
                $log = new RunRecorder($run->refresh(), $this->evidence);
                $log->log(2, null, 'database', 'The database went away in the middle, and is back.');
                $log->save(true);

                return;
            } catch (\PDOException $still) {
                if (microtime(true) > $until) {
                    throw $still;
                }
            }
        }
    }

    private function quietly(\Closure $do, bool $quiet): void
    {
        try {
            $do();
        } catch (\PDOException $failed) {
            if (! $quiet) {
                throw $failed;
            }
        }
    }
}
