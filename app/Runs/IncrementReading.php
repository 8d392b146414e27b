<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\IncrementMark;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Pipeline\ChangeWatch;
use App\Pipeline\InputPages;
use App\Pipeline\Pipeline;
use App\Pipeline\ReadingFailed;
use App\Pipeline\ReadingStopped;
use App\Pipeline\RowMaker;
use App\Pipeline\SourceConnections;
use App\Pipeline\TooManyChanges;
use App\Pipeline\Upsert;
use App\Pipeline\Watched;
use App\Reservoir\CheckedRows;
use App\Reservoir\MergeCounts;
use App\Reservoir\RunSuperseded;
use App\Reservoir\TableShape;
use App\Reservoir\TableStore;
use App\Secrets\Vault;
use App\Transport\Limits;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Carbon;

/**
 * Only what changed since the reading before, by what the source file says, into the tables that are kept.
 */
final readonly class IncrementReading
{
    /** Records that came as they were, of all there are, from which on it is said that nothing was left out. */
    private const ALL = 0.9;

    /** Seconds without a sign of life while rows are merged. */
    private const MERGING = 600;

    public function __construct(private SourceConnections $connections, private Vault $vault, private RateLimitStore $rates, private TableStore $store)
    {
    }

    /**
     * @return bool whether that was enough; false when everything has to be read
     *
     * @throws ReadingFailed
     */
    public function read(RunWork $work): bool
    {
        $mark = $work->increment === null || $work->run->whole || $work->run->isTry() ? null : IncrementMark::of($work->run, $work->endpoint, $work->source);
        $since = $mark === null ? null : $this->vault->unseal($mark->mark);
        if ($work->increment === null || $mark === null || $since === null) {
            return false;
        }
        $sent = $work->increment->way->sent($since, Carbon::now()->toDateTimeImmutable());
        $connection = $this->connections->open($work->run->endpoint->source, $work->source, $work->run->environment);
        $work->recorder->mask = $connection->mask(...);
        $rejects = $work->rejects();
        $asked = $connection->mask()->apply(implode(', ', array_map(static fn (string $name, string $value): string => "$name=$value", array_keys($sent), $sent)));
        $work->beginAnew($rejects, "Asks {$work->source->name} for what changed: $asked.");
        $work->staged->dropPages();
        $sink = new Upsert($work->staged, $work->increment->rule->withRows($this->rows($work)), $work->run->id, $work->run->attempt);
        $watch = new ChangeWatch($work->increment->way, $work->plan->table);
        $pages = new InputPages($connection, $work->increment->asking($sent), $work->increment->sets($sent), $this->limits($work), $work->recorder, fn (): Pacer => new Pacer($this->rates, $work->run->endpoint->source_id, $work->run->environment_id, $work->source->pace), $this->pagesDiffered($work));
        $pipeline = new Pipeline(new RowMaker($work->plan, $work->sentInputs(), $work->masks), new Watched($sink, $watch), new RunObserver($work->run, $work->recorder, $rejects, progress: $work->progress, stopsAfterPage: false));
        try {
            $generator = $pages->read();
            $pipeline->run($generator);
        } catch (TooManyChanges $changes) {
            $work->recorder->log(1, null, 'whole', "Everything is read: {$changes->getMessage()}.");

            return $this->anew($work);
        } catch (ReadingStopped) {
            if ($work->recorder->isOvertaken) {
                throw new RunSuperseded;
            }
            $work->stopped(null, 'at once');

            return true;
        }
        $work->recorder->save(true);
        $work->recorder->beat(self::MERGING);
        $sink->finish($pipeline->state());
        $findings = $this->takeOver($work, $sink);
        // Answers of an earlier run would make the tables what they were then.
        $this->store->pages($work->run->environment, $work->run->owner())->forget();
        $counts = $sink->counts ?? new MergeCounts(0, 0, 0);
        $work->run->changes = ['new' => $counts->new, 'changed' => $counts->changed, 'gone' => $counts->gone, 'same' => $counts->same, 'older' => $counts->older];
        $work->complete($sink, $this->sentence($counts, $work), [...$findings, ...$this->ignored($counts, $work, array_keys($sent))]);
        $next = $work->increment->way->next($since, $watch->seen());
        IncrementMark::remember($work->run, $work->endpoint, $work->source, $next === null ? null : $this->vault->seal($next));

        return true;
    }

    /**
     * Merges what came, looked at as the tables would be.
     *
     * @return list<array{code: string, sentence: string, doubt: bool}>
     *
     * @throws ReadingFailed where it must not be put in place
     */
    private function takeOver(RunWork $work, Upsert $sink): array
    {
        $findings = $work->checks->leaveOut($work);
        $sink->environment = $work->run->environment;
        $sink->look = static function (CheckedRows $rows) use ($work, &$findings): void {
            array_push($findings, ...$work->checks->look($work, $rows, true));
        };
        $work->states->before($work, true);
        $sink->complete();

        return $findings;
    }

    /**
     * What the tables hold, so that they need not be counted: two million rows take half a second.
     *
     * @return list<int>|null null after a run that may have merged something and was not done
     */
    private function rows(RunWork $work): ?array
    {
        $before = Run::query()->where(['endpoint_id' => $work->run->endpoint_id, 'environment_id' => $work->run->environment_id])->where('kind', '!=', 'try')->where('id', '<', $work->run->id)->latest('id')->first();
        $kept = KeptTable::query()->where(['endpoint_id' => $work->run->endpoint_id, 'environment_id' => $work->run->environment_id])->pluck('rows', 'name');
        $rows = array_map(static fn (TableShape $shape): ?int => isset($kept[$shape->name]) ? (int) $kept[$shape->name] : null, $work->staged->shapes());

        return $work->run->attempt > 1 || $before?->state !== RunState::Done || in_array(null, $rows, true) ? null : $rows;
    }

    /**
     * Whether a run went through several pages of this list.
     */
    private function pagesDiffered(RunWork $work): bool
    {
        return Run::query()->where(['endpoint_id' => $work->run->endpoint_id, 'environment_id' => $work->run->environment_id, 'version' => $work->run->version, 'state' => RunState::Done])->where('pages', '>', 2)->exists();
    }

    /**
     * What was staged goes, and everything is read.
     */
    private function anew(RunWork $work): bool
    {
        $work->staged->end();
        $work->staged->begin($work->run->id, $work->run->attempt);

        return false;
    }

    /**
     * A parameter that the service does not know is usually passed over in silence.
     *
     * @param  list<string>  $sent  names
     * @return list<array{code: string, sentence: string, doubt: bool}>
     */
    private function ignored(MergeCounts $counts, RunWork $work, array $sent): array
    {
        $rows = $work->staged->counts()->rowsOf[0];

        return $work->run->pages < 2 || $counts->same < self::ALL * $rows ? [] : [['code' => 'ignored', 'sentence' => 'Of '.Phrase::count($rows, 'record').' '.Phrase::number($counts->same).' came again as they were, as if '.implode(' and ', $sent).' said nothing to the service. The table is true; each refresh reads nearly everything.', 'doubt' => false]];
    }

    private function limits(RunWork $work): Limits
    {
        return new Limits($work->source->pace->timeout, $work->source->pace->tries, (int) config('spring.limits.answer_bytes'));
    }

    private function sentence(MergeCounts $counts, RunWork $work): string
    {
        return Phrase::number($counts->changed).' changed, '.Phrase::number($counts->new).' new, '.Phrase::number($counts->gone).' gone of '.Phrase::count($work->staged->counts()->rowsOf[0], 'row').', in '.Phrase::count($work->run->pages, 'page').'.'
            .($counts->same > 0 ? ' '.Phrase::count($counts->same, 'record').' that came '.($counts->same === 1 ? 'is' : 'are').' as before.' : '')
            .($counts->older > 0 ? ' '.Phrase::count($counts->older, 'record').' came in an older state than is kept, and '.($counts->older === 1 ? 'was' : 'were').' left out.' : '');
    }
}
