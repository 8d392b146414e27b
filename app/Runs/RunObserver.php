<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Run;
use App\Pipeline\PipelineObserver;
use App\Pipeline\ReadingStopped;
use App\Pipeline\ReadPage;
use App\Pipeline\Tally;
use App\Reservoir\RunSuperseded;
use DeepSpring\Flatten\RowBatch;

/**
 * A run as its pages go by: counts, rejects, drift, what was seen first, and whether somebody wants it stopped.
 */
final readonly class RunObserver implements PipelineObserver
{
    /**
     * @param  (\Closure(Run): void)|null  $progress  told after every page
     * @param  (\Closure(ReadPage): void)|null  $first  told of the first page
     * @param  (\Closure(): ?int)|null  $total  records there are, as the API says
     */
    public function __construct(private Run $run, private RunRecorder $recorder, private RejectLog $rejects, private ?DriftWatch $drift = null, private ?\Closure $progress = null, private ?\Closure $first = null, private ?\Closure $total = null, private bool $stopsAfterPage = true)
    {
    }

    public function made(ReadPage $page, RowBatch $batch): void
    {
        $this->drift?->see($page, $batch);
        $this->rejects->keep($page, $batch->rejects);
        if ($this->first !== null && $page->number === 1 && ! $page->isPart) {
            ($this->first)($page);
        }
    }

    public function committed(bool $canGoOn): void
    {
        $this->run->continuable = $canGoOn;
    }

    public function taken(Tally $tally): bool
    {
        $this->run->fill(['pages' => $tally->pages, 'records' => $tally->records, 'rows' => $tally->rows, 'rejects' => $tally->rejects, 'filtered' => $tally->filtered, 'bytes' => $tally->bytes]);
        if ($this->total !== null) {
            $this->run->total = ($this->total)();
        }
        $this->recorder->save();
        if ($this->progress !== null) {
            ($this->progress)($this->run);
        }
        if ($this->recorder->isOvertaken) {
            throw new RunSuperseded;
        }
        if (! $this->stopsAfterPage && ! $this->recorder->goesOn()) {
            throw new ReadingStopped;
        }

        return ! $this->stopsAfterPage || ! $this->recorder->stopsAfterPage;
    }
}
