<?php

declare(strict_types=1);

namespace App\Runs;

use App\Evidence\LookupAnswers;
use App\Models\Environment;
use App\Models\Source;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Pipeline\LookupPages;
use App\Pipeline\LookupSettings;
use App\Pipeline\Pipeline;
use App\Pipeline\ReadingFailed;
use App\Pipeline\ReadingStopped;
use App\Pipeline\ReadPage;
use App\Pipeline\Replace;
use App\Pipeline\RowMaker;
use App\Pipeline\Sink;
use App\Pipeline\Tally;
use App\Reservoir\RunSuperseded;
use App\Reservoir\TableRows;
use App\Reservoir\TableStore;
use App\Transport\Limits;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Carbon;

/**
 * One request for each row of a table, into new tables. Answers that are known are not asked for again.
 */
final readonly class LookupReading
{
    /** Seconds that answers are kept at least: a run that was stopped or broke is gone on with from them. */
    private const KEPT = 86_400;

    /** Seconds without a sign of life while the last rows are loaded. */
    private const LOADING = 600;

    public function __construct(private RunConnections $connections, private RateLimitStore $rates, private TableRows $rows, private TableStore $store)
    {
    }

    public function sink(RunWork $work): Sink
    {
        return new Replace($work->staged, $work->run->id, $work->run->attempt);
    }

    /**
     * Answers that are known to a lookup.
     */
    public static function answers(Source $source, Environment $environment, LookupSettings $settings, \DateTimeImmutable $since): LookupAnswers
    {
        $now = new \DateTimeImmutable('@0');
        $seconds = $settings->answers === null ? 0 : $now->add($settings->answers)->getTimestamp();

        return new LookupAnswers($source, $environment, $since, max(self::KEPT, $seconds));
    }

    /**
     * @param  array<string, mixed>|null  $left  what an earlier process got to
     * @return bool whether what was read stays for a later process
     *
     * @throws ReadingFailed
     */
    public function read(RunWork $work, LookupSettings $settings, Sink $sink, ?array $left): bool
    {
        $rows = LookupRows::of($this->rows, $settings, $work->run->environment);
        $connection = $this->connections->open($work);
        $drift = new DriftWatch($work->run, $work->endpoint, $work->plan);
        $rejects = $work->rejects();
        $work->run->known_since ??= $this->since($work, $settings);
        if ($left !== null && ! $left['finished'] && ($left['position']['memory']['table'] ?? null) !== $this->stateOf($rows)) {
            // The rows are others now; what was asked for is known.
            $work->staged->end();
            $work->staged->begin($work->run->id, $work->run->attempt);
            $left = null;
        }
        $answers = self::answers($work->run->endpoint->source, $work->run->environment, $settings, $work->run->known_since->toDateTimeImmutable());
        $after = $left['position']['memory']['after'] ?? null;
        $pages = $connection->lookup($work->endpoint, $settings, $rows->read($after), $this->limits($work), $work->recorder, new Pacer($this->rates, $work->run->endpoint->source_id, $work->run->environment_id, $work->source->pace), $answers, $work->recorder->conceal);
        $pipeline = new Pipeline(new RowMaker($work->plan, [], $work->masks), $sink, new RunObserver($work->run, $work->recorder, $rejects, $drift, $work->progress), new Tally);
        $work->run->lookup = $pages->counts->toArray();
        if ($left !== null) {
            $drift->isWhole = false;
            $this->goOn($work, $pipeline, $pages, $rejects, $left);
            if ($left['finished']) {
                $work->complete($sink, $left['ended'], $left['findings']);

                return false;
            }
        } else {
            $work->beginAnew($rejects, "Asks {$work->source->name} once for each row of {$rows->table->name}, ".Phrase::count($rows->table->rows, 'row').', in '.$work->run->environment->name.'.');
        }
        $work->run->total = $rows->table->rows;
        $generator = $pages->read();
        try {
            if (! $pipeline->run($this->counted($generator, $pages, $work, $this->stateOf($rows)))) {
                return $work->stopped($pipeline, 'after row '.Phrase::number($pages->counts->rows));
            }
        } catch (ReadingStopped) {
            return $work->recorder->isOvertaken ? throw new RunSuperseded : $work->stopped($pipeline, 'at once');
        } catch (ReadingFailed $failed) {
            $pipeline->commit();
            $work->staged->awaitLoading();
            $work->recorder->keepLast();

            throw $failed;
        }
        $this->finish($work, $sink, $pipeline, $pages, $drift);

        return false;
    }

    /**
     * Pages, with what became of the rows so far told to the run, and to the position from which it is gone on.
     *
     * @param  \Generator<int, ReadPage>  $generator
     * @return \Generator<int, ReadPage>
     */
    private function counted(\Generator $generator, LookupPages $pages, RunWork $work, string $table): \Generator
    {
        foreach ($generator as $page) {
            $work->run->lookup = $pages->counts->toArray();
            yield $page->position === null ? $page : $page->within($page->set, $page->number, $page->position->knowing(['table' => $table]));
            unset($page);
        }
    }

    /**
     * What the rows are of: another refresh of the table makes others of them.
     */
    private function stateOf(LookupRows $rows): string
    {
        return "{$rows->table->id} {$rows->table->run_id}";
    }

    /**
     * @param  array<string, mixed>  $left
     */
    private function goOn(RunWork $work, Pipeline $pipeline, LookupPages $pages, RejectLog $rejects, array $left): void
    {
        $pipeline->tally->goOn($left['counts'], $work->staged->counts()->rows);
        $pages->counts->goOn($left['position']['memory']['lookup'] ?? []);
        $work->run->fill($left['counts'] + ['rows' => $work->staged->counts()->rows, 'diagnosis' => null, 'ended' => null, 'ended_at' => null]);
        $rejects->goOn($left['counts']['pages']);
        $work->recorder->log(2, null, 'goes-on', $left['finished'] ? 'All rows were asked for; only the tables have to be put in place.' : 'Goes on after row '.Phrase::number($left['counts']['pages']).', from what an earlier process had loaded.');
        $work->recorder->save(true);
    }

    private function finish(RunWork $work, Sink $sink, Pipeline $pipeline, LookupPages $pages, DriftWatch $drift): void
    {
        $work->refuseLoss($drift);
        $work->run->lookup = $pages->counts->toArray();
        $ended = $pages->sentence();
        $findings = $pages->counts->failed === 0 ? [] : [['code' => 'failed-rows', 'sentence' => Phrase::count($pages->counts->failed, 'row').' failed and '.($pages->counts->failed === 1 ? 'is' : 'are').' among the rejects, each with its reason. '.($pages->counts->failed === 1 ? 'It' : 'They').' can be asked for again alone.', 'doubt' => true]];
        $work->recorder->log(2, null, 'loads', 'All rows were asked for; the rest is loaded.');
        $work->recorder->save(true);
        $work->recorder->beat(self::LOADING);
        $sink->finish(['ended' => $ended, 'findings' => $findings, 'position' => null] + $pipeline->state());
        $work->complete($sink, $ended, $findings);
        // Pages that were kept when it was read as a list would make other tables.
        $this->store->pages($work->run->environment, $work->run->owner())->forget();
        $work->noteDrift($drift);
    }

    private function since(RunWork $work, LookupSettings $settings): Carbon
    {
        return $work->run->whole || $settings->answers === null ? $work->run->created_at : $work->run->created_at->copy()->sub($settings->answers);
    }

    private function limits(RunWork $work): Limits
    {
        return (new Limits($work->source->pace->timeout, $work->source->pace->tries, (int) config('spring.limits.answer_bytes'), isPatient: false))->repeatable(true);
    }
}
