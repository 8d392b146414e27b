<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Run;
use App\Models\RunState;
use App\Pipeline\LookupSettings;
use App\Pipeline\Pipeline;
use App\Pipeline\ReadingFailed;
use App\Pipeline\Sink;
use App\Reservoir\StagedTables;
use DeepSpring\Ask\InputSets;
use DeepSpring\Flatten\Mask\Masks;
use DeepSpring\Flatten\Plan;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceDefinition;

/**
 * What one process has in hand for a run, and the ways in which it can end.
 */
final readonly class RunWork
{
    /** Seconds without a sign of life while rows are looked at. */
    private const LOOKING = 600;

    /**
     * @param  InputSets  $sets  what it is read with
     * @param  (\Closure(Run): void)|null  $progress  told after every page
     */
    public function __construct(
        public Run $run,
        public SourceDefinition $source,
        public EndpointDefinition $endpoint,
        public Plan $plan,
        public InputSets $sets,
        public StagedTables $staged,
        public RunRecorder $recorder,
        public Masks $masks,
        private KeptTables $tables,
        private TableIndexing $indexes,
        public TableChecks $checks,
        public TableStates $states,
        public ?\Closure $progress,
        public ?IncrementSettings $increment = null,
        public ?LookupSettings $lookup = null,
    ) {
    }

    /**
     * All counts at nothing.
     */
    public function beginAnew(RejectLog $rejects, string $told): void
    {
        $this->run->fill([
            'pages' => 0, 'records' => 0, 'rows' => 0, 'rejects' => 0, 'filtered' => 0, 'duplicates' => 0, 'bytes' => 0,
            'findings' => null, 'diagnosis' => null, 'ended' => null, 'ended_at' => null, 'continuable' => false,
        ]);
        $rejects->begin();
        $this->recorder->log(2, null, 'begins', $told);
        $this->recorder->save(true);
    }

    public function rejects(): RejectLog
    {
        return new RejectLog($this->run, $this->endpoint, (int) config('spring.limits.rejects_kept'));
    }

    /**
     * Values that columns can hold, of each reading.
     *
     * @return list<array<string, string>>
     */
    public function sentInputs(): array
    {
        return array_map(fn (array $set): array => InputSets::sent($this->endpoint->ask(), $set), $this->sets->sets);
    }

    /**
     * @throws ReadingFailed when the tables would lose what they hold
     */
    public function refuseLoss(?DriftWatch $drift): void
    {
        $refusal = $drift?->refusal();
        if ($refusal !== null) {
            throw ReadingFailed::because($refusal);
        }
    }

    public function noteDrift(?DriftWatch $drift): void
    {
        foreach ($drift?->remember() ?? [] as $change) {
            $this->recorder->log(1, null, 'drift', $change->sentence);
        }
    }

    /**
     * All rows are there: they take effect.
     *
     * @param  list<array{code: string, sentence: string, doubt: bool}>  $findings
     */
    public function complete(Sink $sink, string $ended, array $findings = []): void
    {
        if (! $this->run->isTry()) {
            $findings = [...$findings, ...$this->checked()];
            foreach ($this->indexes->build($this->run->environment, $this->staged) as $sentence) {
                $this->recorder->log(2, null, 'indexes', $sentence);
            }
        }
        $this->staged->isInPlace() || $this->states->before($this);
        $sink->complete();
        array_push($findings, ...array_map(static fn (string $sentence): array => ['code' => 'loss', 'sentence' => $sentence, 'doubt' => false], $this->plan->losses()));
        $counts = $this->staged->counts();
        $outcome = ['rows' => $counts->rows, 'duplicates' => $counts->duplicates, 'ended' => mb_substr($ended, 0, 500), 'findings' => $findings === [] ? null : $findings];
        if ($this->run->isTry()) {
            $this->run->fill(['state' => RunState::Done] + $outcome);
            $this->recorder->log(1, null, 'done', "$ended Nothing was kept.");

            return;
        }
        $this->tables->replaced($this->run, $this->staged, $outcome, $this->lookup?->rows->table);
        $this->states->after($this);
        foreach ($findings as $finding) {
            $this->recorder->log($finding['doubt'] ? 1 : 2, null, $finding['code'], $finding['sentence']);
        }
        $this->recorder->log(1, null, 'done', $ended);
    }

    /**
     * New rows are looked at before they are in place.
     *
     * @return list<array{code: string, sentence: string, doubt: bool}>
     *
     * @throws ReadingFailed where they must not be put in place
     */
    private function checked(): array
    {
        if ($this->staged->isInPlace()) {
            return [];
        }
        $this->recorder->save(true);
        $this->recorder->beat(self::LOOKING);
        $leftOut = $this->checks->leaveOut($this);

        return [...$leftOut, ...$this->checks->look($this, $this->staged->checked($this->run->environment))];
    }

    public function unchanged(string $since): void
    {
        $ended = "Nothing has changed since $since UTC: the service said so in one request (304).";
        $this->run->fill(['state' => RunState::Done, 'rows' => $this->tables->confirmed($this->run), 'pages' => 1, 'ended' => $ended]);
        $this->recorder->log(1, null, 'unchanged', $ended);
    }

    /**
     * Somebody stopped it.
     *
     * @param  string  $how  "at once", or "after page 3"
     * @return bool whether it can be run on
     */
    public function stopped(?Pipeline $pipeline, string $how): bool
    {
        $canGoOn = $pipeline?->commit() === true;
        $this->staged->awaitLoading();
        $ended = "Stopped by hand $how. The tables are as they were".($canGoOn ? ', and it can be run on from '.($this->lookup === null ? 'page' : 'row')." {$pipeline->position?->page}." : '.');
        $this->run->fill(['state' => RunState::Stopped, 'ended' => $ended, 'continuable' => $canGoOn]);
        $this->recorder->log(1, null, 'stopped', $ended);

        return $canGoOn;
    }
}
