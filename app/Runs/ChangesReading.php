<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\ChangeLink;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Pipeline\DeltaPages;
use App\Pipeline\DeltaUnusable;
use App\Pipeline\Merge;
use App\Pipeline\Pipeline;
use App\Pipeline\ReadingFailed;
use App\Pipeline\ReadingStopped;
use App\Pipeline\RowMaker;
use App\Pipeline\SourceConnections;
use App\Reservoir\RunSuperseded;
use App\Reservoir\TableStore;
use App\Secrets\Vault;
use App\Transport\Limits;
use DeepSpring\Value\Phrase;

/**
 * Only what changed since the last run, where the service keeps track of that.
 */
final readonly class ChangesReading
{
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
        $since = $work->run->isTry() || $work->run->whole || $work->sets->count() > 1 ? null : ChangeLink::of($work->run, $work->endpoint, $work->source);
        if ($since === null) {
            return false;
        }
        $connection = $this->connections->open($work->run->endpoint->source, $work->source, $work->run->environment);
        $work->recorder->mask = $connection->mask(...);
        $rejects = $work->rejects();
        $work->beginAnew($rejects, "Asks {$work->source->name} what changed since ".$since->updated_at->format('Y-m-d H:i:s').' UTC.');
        try {
            $delta = new DeltaPages($work->endpoint, $work->plan);
            $sink = new Merge($work->staged, $delta->gone(...), array_combine($work->staged->shapes()[0]->key, array_values($delta->key)), $work->run->id, $work->run->attempt);
            $pipeline = new Pipeline(new RowMaker($work->plan, $work->sentInputs(), $work->masks), $sink, new RunObserver($work->run, $work->recorder, $rejects, stopsAfterPage: false));
            $limits = new Limits($work->source->pace->timeout, $work->source->pace->tries, (int) config('spring.limits.answer_bytes'));
            $pacer = new Pacer($this->rates, $work->run->endpoint->source_id, $work->run->environment_id, $work->source->pace);
            $pipeline->run($delta->read($this->vault->unseal($since->link) ?? $since->link, $connection->pages(), $work->sets->sets[0], $limits, $work->recorder, $pacer));
        } catch (DeltaUnusable $unusable) {
            $work->recorder->log(1, null, 'whole', "Everything is read: {$unusable->getMessage()}.");
            ChangeLink::remember($work->run, $work->endpoint, $work->source, null);

            return false;
        } catch (ReadingStopped) {
            if ($work->recorder->isOvertaken) {
                throw new RunSuperseded;
            }
            $work->stopped(null, 'at once');

            return true;
        }
        // Answers of an earlier run would make the tables what they were then.
        $work->staged->dropPages();
        $sink->finish($pipeline->state());
        $this->store->pages($work->run->environment, $work->run->owner())->forget();
        $work->complete($sink, $this->sentence($delta, $since, $sink->stayed));
        ChangeLink::remember($work->run, $work->endpoint, $work->source, $delta->link === null ? null : $this->vault->seal($delta->link));

        return true;
    }

    private function sentence(DeltaPages $delta, ChangeLink $since, int $stayed): string
    {
        return Phrase::count($delta->changed(), 'row is', 'rows are').' new or changed and '.Phrase::count(count($delta->gone()), 'is gone', 'are gone')
            .' since '.$since->updated_at->format('Y-m-d H:i:s').' UTC; the other '.Phrase::number($stayed).' stayed as they were.';
    }
}
