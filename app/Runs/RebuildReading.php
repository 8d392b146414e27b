<?php

declare(strict_types=1);

namespace App\Runs;

use App\Pipeline\KeptPageInput;
use App\Pipeline\Pipeline;
use App\Pipeline\ReadingStopped;
use App\Pipeline\Replace;
use App\Pipeline\RowMaker;
use App\Pipeline\Tally;
use App\Reservoir\KeepFailed;
use App\Reservoir\RunSuperseded;
use App\Reservoir\TableStore;
use DeepSpring\Value\Phrase;

/**
 * The tables from the pages of the last complete run, by what is published now. It is begun anew if it is
 * interrupted.
 */
final readonly class RebuildReading
{
    public function __construct(private TableStore $store)
    {
    }

    public function read(RunWork $work, Replace $sink): void
    {
        $kept = $this->store->pages($work->run->environment, $work->run->owner());
        $about = $kept->about() ?? throw KeepFailed::because('No pages are kept, so the tables can only be refreshed from the API.');
        $drift = new DriftWatch($work->run, $work->endpoint, $work->plan);
        $rejects = $work->rejects();
        $work->run->total = null;
        $from = Phrase::count($about['pages'], 'page');
        $work->beginAnew($rejects, "Makes the tables of version {$work->run->version} from the $from kept since {$about['kept_at']} UTC, without a request.");
        $observer = new RunObserver($work->run, $work->recorder, $rejects, $drift, $work->progress, stopsAfterPage: false);
        $pipeline = new Pipeline(new RowMaker($work->plan, $work->sentInputs(), $work->masks), $sink, $observer, new Tally);
        try {
            $pipeline->run((new KeptPageInput($kept, $work->endpoint))->read());
        } catch (ReadingStopped) {
            if ($work->recorder->isOvertaken) {
                throw new RunSuperseded;
            }
            $work->stopped(null, 'at once');

            return;
        }
        $work->refuseLoss($drift);
        $sink->finish($pipeline->state());
        $work->complete($sink, "$from that ".($about['pages'] === 1 ? 'was' : 'were').' kept, without a request.');
        $work->noteDrift($drift);
    }
}
