<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\ChangeLink;
use App\Models\IncrementMark;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Pipeline\ChangeWatch;
use App\Pipeline\Count;
use App\Pipeline\InputPages;
use App\Pipeline\Pipeline;
use App\Pipeline\Position;
use App\Pipeline\ReadingFailed;
use App\Pipeline\ReadingStopped;
use App\Pipeline\ReadPage;
use App\Pipeline\Replace;
use App\Pipeline\RowMaker;
use App\Pipeline\Sink;
use App\Pipeline\SourceConnection;
use App\Pipeline\Tally;
use App\Pipeline\Watched;
use App\Reservoir\KeepFailed;
use App\Reservoir\RunSuperseded;
use App\Secrets\Vault;
use App\Transport\Limits;
use DeepSpring\Answer\Stream\JsonRecords;
use DeepSpring\Onward\End;
use DeepSpring\Onward\EndReason;
use DeepSpring\Onward\PagingFinding;
use DeepSpring\Value\Phrase;

/**
 * All pages of an endpoint from its API, into new tables, or for a long try into none.
 */
final readonly class WholeReading
{
    /** Seconds without a sign of life while the last rows are loaded. */
    private const LOADING = 600;

    public function __construct(private RunConnections $connections, private Vault $vault, private RateLimitStore $rates)
    {
    }

    public function sink(RunWork $work): Sink
    {
        if ($work->run->isTry()) {
            return new Count($work->staged, $work->run->id, $work->run->attempt);
        }
        $readsChanges = $this->readsChanges($work);
        if ($readsChanges) {
            $work->staged->expectChanges();
        }

        return new Replace($work->staged, $work->run->id, $work->run->attempt, $readsChanges ? 0 : (int) config('spring.limits.kept_pages_bytes'), $work->recorder->conceal);
    }

    /**
     * Whether probably only changes will be read, of which no answer is kept.
     */
    private function readsChanges(RunWork $work): bool
    {
        return $work->increment !== null && ! $work->run->whole && IncrementMark::of($work->run, $work->endpoint, $work->source) !== null;
    }

    /**
     * @param  array<string, mixed>|null  $left  what an earlier process got to
     * @return bool whether what was read stays for a later process
     *
     * @throws ReadingFailed
     */
    public function read(RunWork $work, Sink $sink, ?array $left): bool
    {
        $connection = $this->connections->open($work);
        $left = $left === null ? null : $this->opened($left);
        $drift = $work->run->isTry() ? null : new DriftWatch($work->run, $work->endpoint, $work->plan);
        $pages = $this->pages($work, $connection);
        $unchanged = new Unchanged($work->run, $work->endpoint, $work->source);
        $rejects = $work->rejects();
        // A mark that is made of a secret is not kept to be asked with.
        $first = static fn (ReadPage $page) => $unchanged->see(array_filter($page->sent->headers, static fn (string $value): bool => ! $connection->mask()->touches($value)));
        // The way to the next page may hold a secret that the service repeats in it.
        $seal = fn (string $json): ?string => $connection->mask()->touches($json) ? $this->vault->seal($json) : null;
        $watch = $work->increment === null ? null : new ChangeWatch($work->increment->way, $work->plan->table);
        $pipeline = new Pipeline(
            new RowMaker($work->plan, $work->sentInputs(), $work->masks, $pages->walk(...)), $watch === null ? $sink : new Watched($sink, $watch, static function (ChangeWatch $watch) use ($work): void {
                $work->run->seen = $watch->toArray();
            }),
            new RunObserver($work->run, $work->recorder, $rejects, $drift, $work->progress, $first, $pages->total(...)), new Tally, $seal,
        );
        if ($left !== null) {
            $watch?->goOn($work->run->seen ?? []);
            $this->goOn($work, $pipeline, $rejects, $drift, $left);
            if ($left['finished']) {
                return $this->complete($work, $sink, $left['ended'], $left['findings'], $watch);
            }
        } else {
            $this->begin($work, $rejects);
        }
        $generator = $pages->read($left === null ? null : Position::fromArray($left['position']), $left === null && ! $work->run->isTry() ? $unchanged->headers() : []);
        try {
            if (! $pipeline->run($generator)) {
                return $work->stopped($pipeline, 'after page '.$work->run->pages);
            }
        } catch (ReadingStopped) {
            return $work->recorder->isOvertaken ? throw new RunSuperseded : $work->stopped($pipeline, 'at once');
        } catch (ReadingFailed $failed) {
            if ($failed->page !== $work->run->pages) {
                $pipeline->commit();
            }
            $work->staged->awaitLoading();
            $work->recorder->keepLast();

            throw $failed;
        }
        $this->finish($work, $sink, $pipeline, $pages, $generator->getReturn(), $connection, $unchanged, $drift, $watch);

        return false;
    }

    private function begin(RunWork $work, RejectLog $rejects): void
    {
        $what = $work->run->isTry() ? "Tries what is drafted of {$work->source->name} to its end" : "Reads version {$work->run->version} of {$work->source->name}";
        $with = $work->sets->words();
        $work->beginAnew($rejects, "$what in {$work->run->environment->name}, $with".($work->run->attempt > 1 ? ', from the first page' : '').'.');
    }

    /**
     * @param  array<string, mixed>  $left
     */
    private function goOn(RunWork $work, Pipeline $pipeline, RejectLog $rejects, ?DriftWatch $drift, array $left): void
    {
        if ($drift !== null) {
            $drift->isWhole = false;
        }
        $pipeline->tally->goOn($left['counts'], $work->staged->counts()->rows);
        $work->run->fill($left['counts'] + ['rows' => $work->staged->counts()->rows, 'diagnosis' => null, 'ended' => null, 'ended_at' => null]);
        $rejects->goOn($left['counts']['pages']);
        $work->recorder->log(2, null, 'goes-on', $left['finished'] ? 'All pages are there already; only the tables have to be put in place.' : "Goes on with page {$left['position']['page']}, from what an earlier process had loaded.");
        $work->recorder->save(true);
    }

    private function finish(RunWork $work, Sink $sink, Pipeline $pipeline, InputPages $pages, End $end, SourceConnection $connection, Unchanged $unchanged, ?DriftWatch $drift, ?ChangeWatch $watch): void
    {
        if ($end->reason === EndReason::Unchanged) {
            $work->unchanged($unchanged->since());

            return;
        }
        $work->refuseLoss($drift);
        $findings = array_map(static fn (PagingFinding $finding): array => ['sentence' => $connection->mask()->apply($finding->sentence)] + $finding->toArray(), $pages->findings());
        $ended = $connection->mask()->apply($pages->proof($end));
        $work->recorder->log(2, null, 'loads', $work->run->isTry() ? 'All pages are there.' : 'All pages are there; the rest is loaded.');
        $work->recorder->save(true);
        $work->recorder->beat(self::LOADING);
        $sink->finish(['ended' => $ended, 'findings' => $findings, 'position' => null] + $pipeline->state());
        $this->compare($work);
        $this->complete($work, $sink, $ended, $findings, $watch);
        if (! $work->run->isTry()) {
            $unchanged->remember();
            $isTracked = ($work->endpoint->endpoint['track'] ?? false) === true && $work->sets->count() === 1;
            ChangeLink::remember($work->run, $work->endpoint, $work->source, $isTracked && $pipeline->changes !== null ? $this->vault->seal($pipeline->changes) : null);
        }
        $work->noteDrift($drift);
    }

    /**
     * @param  list<array{code: string, sentence: string, doubt: bool}>  $findings
     * @return false nothing stays for a later process
     */
    private function complete(RunWork $work, Sink $sink, string $ended, array $findings, ?ChangeWatch $watch): bool
    {
        $work->complete($sink, $ended, $findings);
        $this->mark($work, $watch);

        return false;
    }

    /**
     * Of a table of which usually only changes are read: what is marked as deleted is left out, and what the
     * increments had missed is said.
     */
    private function compare(RunWork $work): void
    {
        if ($work->increment === null || $work->staged->isInPlace()) {
            return;
        }
        $deleted = $work->staged->merge($work->increment->rule)->leaveOutDeleted();
        $deleted === 0 || $work->recorder->log(2, null, 'deleted', Phrase::count($deleted, 'record is', 'records are').' marked as deleted and left out.');
        if (IncrementMark::of($work->run, $work->endpoint, $work->source) === null) {
            return;
        }
        $missed = $work->staged->merge($work->increment->rule)->difference();
        $work->run->changes = ['new' => $missed->new, 'changed' => 0, 'gone' => $missed->gone, 'same' => 0, 'older' => 0];
        $work->recorder->log(1, null, 'sweep', 'Since the last increment '.Phrase::count($missed->gone, 'record is gone', 'records are gone').' at the source and '.Phrase::count($missed->new, 'is', 'are').' new.');
    }

    /**
     * From where the next increment begins.
     */
    private function mark(RunWork $work, ?ChangeWatch $watch): void
    {
        if ($work->increment !== null && $watch !== null) {
            $next = $work->increment->way->next(null, $watch->seen());
            IncrementMark::remember($work->run, $work->endpoint, $work->source, $next === null ? null : $this->vault->seal($next));
            $next !== null || $work->recorder->log(2, null, 'mark', 'Nothing that came says from where changes could be asked for, so the next refresh reads everything again.');
        }
    }

    private function pages(RunWork $work, SourceConnection $connection): InputPages
    {
        $answer = $work->endpoint->answer();
        $streams = ! $work->run->isTry() && in_array($answer->format, ['auto', 'json'], true) && JsonRecords::of(static fn (int $bytes): string => '', $answer->records) !== null;
        $limits = new Limits(
            $work->source->pace->timeout, $work->source->pace->tries, (int) config($streams ? 'spring.limits.streamed_bytes' : 'spring.limits.answer_bytes'),
            large: $streams ? (int) config('spring.limits.large_bytes') : null,
        );

        return new InputPages($connection, $work->endpoint, $work->sets, $limits, $work->recorder, fn (): Pacer => new Pacer($this->rates, $work->run->endpoint->source_id, $work->run->environment_id, $work->source->pace));
    }

    /**
     * What an earlier process got to, with its position opened where it was sealed.
     *
     * @param  array<string, mixed>  $left
     * @return array<string, mixed>
     */
    private function opened(array $left): array
    {
        $sealed = $left['position']['sealed'] ?? null;
        if (is_string($sealed)) {
            $left['position'] = json_decode($this->vault->unseal($sealed) ?? throw KeepFailed::because('How far the earlier process got cannot be opened with the key in use. Read it anew.'), true);
        }

        return $left;
    }
}
