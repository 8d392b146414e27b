<?php

declare(strict_types=1);

namespace App\Console\Commands;

use App\Changes\ChangeSets;
use App\Evidence\LookupAnswers;
use App\Imports\Uploads;
use App\Models\AnswerPart;
use App\Models\Delivery;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Exchange;
use App\Models\KeptTable;
use App\Models\Note;
use App\Models\PendingImport;
use App\Models\QueryRun;
use App\Models\RejectedValue;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\StatementUse;
use App\Models\TableIndex;
use App\Outlets\CallLog;
use App\Outlets\FeedBook;
use App\Queries\ExportFiles;
use App\Queries\Keeping\QueryKeeping;
use App\Queries\Live\LiveReader;
use App\Queries\QueryDrafts;
use App\Queries\Results\KeptResults;
use App\Reservoir\TableIndexes;
use App\Reservoir\TableStore;
use App\Runs\AlignIndexes;
use App\Runs\Runs;
use App\Runs\TableStates;
use Illuminate\Console\Command;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Support\Carbon;

/**
 * What needs no hand: runs whose process died are closed, old history is thinned.
 */
final class Tidy extends Command
{
    private const DAYS = 30;

    private const DETAIL_DAYS = 7;

    /** Days for which a note stays after it is over. */
    private const NOTE_DAYS = 180;

    /** Days for which changes stay that were sent; the journal keeps what they were. */
    private const CHANGE_DAYS = 90;

    /** Minutes after which an index is expected to be there. */
    private const BUILT = 5;

    protected $signature = 'spring:tidy';

    protected $description = 'Closes runs whose process died and thins old history';

    public function __construct(private readonly TableStore $tables)
    {
        parent::__construct();
    }

    public function handle(Runs $runs, TableStates $states, QueryKeeping $keeping, FeedBook $feeds): int
    {
        $runs->rescue();
        ChangeSets::tidy(self::CHANGE_DAYS);
        $before = Carbon::now()->subDays(self::DAYS);
        $old = Run::query()->where('created_at', '<', $before)->whereIn('state', [RunState::Done, RunState::Failed, RunState::Stopped])
            ->whereNotIn('id', Run::query()->selectRaw('max(id)')->groupBy('endpoint_id', 'environment_id'))->limit(500)->pluck('id');
        RejectedValue::query()->whereIn('run_id', $old)->delete();
        Exchange::query()->whereIn('run_id', $old)->delete();
        Run::query()->whereIn('id', $old)->delete();
        $this->thinRuns();
        $this->dropOrphans();
        $states->dropOrphans();
        $this->dropPages();
        $this->buildIndexes();
        Environment::query()->get()->each($keeping->alignViews(...));
        $feeds->alignViews();
        QueryDrafts::tidy();
        ExportFiles::tidy();
        KeptResults::tidy();
        CallLog::tidy();
        // Bodies of old tries are what takes the room; that they were, and what came of them, stays.
        $bodies = Exchange::query()->where('created_at', '<', $before)->where(static fn (Builder $any) => $any->whereNotNull('body')->orWhereNotNull('digest'))->limit(2000)->pluck('id');
        AnswerPart::query()->whereIn('exchange_id', $bodies)->delete();
        Exchange::query()->whereIn('id', $bodies)->update(['body' => null, 'digest' => null]);
        LookupAnswers::tidy();
        Uploads::tidy();
        $this->thinNotes($before);
        PendingImport::query()->where('created_at', '<', Carbon::now()->subDay())->delete();
        StatementUse::query()->where('day', '<', Carbon::now()->subDays(StatementUse::DAYS))->limit(5000)->delete();
        QueryRun::query()->where('created_at', '<', $before)->limit(5000)->delete();

        return self::SUCCESS;
    }

    /**
     * After a week the log of a run keeps its outcome and steps; what it read and did not keep is
     * given up after a day.
     */
    private function thinRuns(): void
    {
        $week = Carbon::now()->subDays(self::DETAIL_DAYS);
        RunEvent::query()->where('level', '>', 2)->where('at', '<', $week->getTimestamp())->limit(50_000)->delete();
        Exchange::query()->whereNotNull('run_id')->where('created_at', '<', $week)->limit(2000)->delete();
        $left = Run::query()->with('environment')->where('continuable', true)->whereIn('state', [RunState::Failed, RunState::Stopped])->where('ended_at', '<', Carbon::now()->subDay())->get();
        foreach ($left as $run) {
            if (! Run::query()->where('endpoint_id', $run->endpoint_id)->where('environment_id', $run->environment_id)->whereNotNull('active')->exists()) {
                $this->tables->discard($run->environment, $run->owner());
                $run->update(['continuable' => false]);
            }
        }
    }

    /**
     * What is over, and messages that have arrived or were given up.
     */
    private function thinNotes(Carbon $before): void
    {
        Note::query()->where('closed_at', '<', Carbon::now()->subDays(self::NOTE_DAYS))->limit(5000)->delete();
        Delivery::query()->where('ended_at', '<', $before)->limit(5000)->delete();
    }

    /**
     * Indexes that whoever was to build them did not.
     */
    private function buildIndexes(): void
    {
        // While rows are read into the table, they are built with these.
        $late = TableIndex::query()->whereNull('built_at')->whereNull('fault')->where('created_at', '<', Carbon::now()->subMinutes(self::BUILT))->get();
        foreach ($late as $index) {
            $table = KeptTable::query()->with('environment')->where(['environment_id' => $index->environment_id, 'name' => $index->table])->first();
            $table === null || $this->tables->writer($table->environment, "e$table->endpoint_id") !== null || AlignIndexes::dispatch($table->id);
        }
    }

    /**
     * Pages that are kept for too long, or of endpoints that are gone.
     */
    private function dropPages(): void
    {
        foreach (Environment::query()->get() as $environment) {
            foreach ($this->tables->keptLongerThan($environment, (int) config('spring.limits.kept_pages_days')) as $owner => $isOld) {
                if ($isOld || $this->isOrphan((string) $owner)) {
                    $this->tables->pages($environment, (string) $owner)->forget();
                }
            }
        }
    }

    /**
     * Staged rows of endpoints that were deleted while they were read, and of queries and measurements whose process ended before they did.
     */
    private function dropOrphans(): void
    {
        foreach (Environment::query()->get() as $environment) {
            foreach ($this->tables->stages($environment) as $owner) {
                $isOfOneProcess = str_starts_with($owner, LiveReader::OWNER) || str_starts_with($owner, TableIndexes::OWNER);
                $isLeft = $isOfOneProcess ? $this->tables->writer($environment, $owner) === null : $this->isOrphan($owner);
                if ($isLeft) {
                    $this->tables->discard($environment, $owner);
                }
            }
        }
    }

    private function isOrphan(string $owner): bool
    {
        return preg_match('/^[et](\d+)$/D', $owner, $part) === 1 && Endpoint::query()->whereKey((int) $part[1])->doesntExist();
    }
}
