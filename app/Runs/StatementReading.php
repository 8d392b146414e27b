<?php

declare(strict_types=1);

namespace App\Runs;

use App\Pipeline\Pipeline;
use App\Pipeline\ReadingStopped;
use App\Pipeline\ReadPage;
use App\Pipeline\Replace;
use App\Pipeline\RowMaker;
use App\Pipeline\Tally;
use App\Reservoir\KeepFailed;
use App\Reservoir\RunSuperseded;
use App\Transport\Sent;
use DeepSpring\Flatten\Column;
use DeepSpring\Value\Phrase;

/**
 * All rows of a saved query, in the place of those that are kept of it. It is begun anew if it is
 * interrupted, since a statement has no middle to go on from.
 */
final readonly class StatementReading
{
    /** Rows that make one page. */
    private const PAGE = 5000;

    public function __construct(private Statements $statements)
    {
    }

    public function read(RunWork $work, Replace $sink): void
    {
        $rejects = $work->rejects();
        $work->run->total = null;
        $work->beginAnew($rejects, 'Reads '.(($period = $this->statements->period($work->run)) === null ? 'the rows of the query' : "the rows of the query with $period; those before stay as they are,").' as its owner.');
        // How many rows a query has follows from what it asks: a fall is nothing to be stopped for.
        $work->run->takes_any = true;
        $observer = new RunObserver($work->run, $work->recorder, $rejects, null, $work->progress, stopsAfterPage: false);
        $pipeline = new Pipeline(new RowMaker($work->plan, $work->sentInputs(), $work->masks), $sink, $observer, new Tally);
        try {
            $pipeline->run($this->pages($work));
        } catch (ReadingStopped) {
            if ($work->recorder->isOvertaken) {
                throw new RunSuperseded;
            }
            $work->stopped(null, 'at once');

            return;
        }
        $sink->finish($pipeline->state());
        $work->complete($sink, $period === null ? 'All '.Phrase::count($pipeline->tally->records, 'row').' of the query.' : Phrase::count($pipeline->tally->records, 'row').": those with $period read anew, those before as they were.");
    }

    /**
     * @return \Generator<int, ReadPage>
     *
     * @throws KeepFailed
     */
    private function pages(RunWork $work): \Generator
    {
        $names = array_map(static fn (Column $column): string => $column->name, $work->plan->table->columns);
        $records = [];
        $number = 1;
        foreach ($this->statements->rows($work->run, $names) as $row) {
            $records[] = (object) array_combine($names, $row);
            if (count($records) === self::PAGE) {
                yield $this->page($number++, $records);
                $records = [];
            }
        }
        if ($records !== [] || $number === 1) {
            yield $this->page($number, $records);
        }
    }

    /**
     * @param  list<\stdClass>  $records
     */
    private function page(int $number, array $records): ReadPage
    {
        return new ReadPage($number, $records, $records, Sent::kept('application/json', ''), null, null, [], isPart: true);
    }
}
