<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\ChangeLink;
use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\KeptTable;
use App\Models\Run;
use App\Models\RunState;
use App\Pace\PaceBook;
use App\Pace\Pacer;
use App\Reservoir\ConnectionLost;
use App\Reservoir\KeepFailed;
use App\Reservoir\KeptPages;
use App\Reservoir\Overtaken;
use App\Reservoir\Staging;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use App\Transport\Transport;
use App\View\Show;
use DeepSpring\Access\SecretMask;
use DeepSpring\Answer\Stream\JsonRecords;
use DeepSpring\Answer\UnreadableAnswer;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Flatten\FlattenFailure;
use DeepSpring\Flatten\Mask\Concealing;
use DeepSpring\Flatten\Plan;
use DeepSpring\Onward\EndReason;
use DeepSpring\Onward\PagingFinding;
use DeepSpring\SourceFile\EndpointDefinition;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Database\LostConnectionDetector;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * The whole pipeline: an endpoint's records into its tables. Whatever stops it leaves the tables
 * as they were, and what was read so far for a later process to go on from.
 */
final class Refresh
{
    /** Seconds that a database that went away is waited for. */
    private const DATABASE = 120;

    public function __construct(private readonly Transport $transport, private readonly Vault $vault, private readonly EvidenceWriter $evidence, private readonly PaceBook $book)
    {
    }

    /**
     * Works for a run that waits, unless another process was quicker.
     *
     * @param  (\Closure(Run): void)|null  $progress  told after every page
     */
    public function run(Run $run, ?\Closure $progress = null): Run
    {
        for ($left = 20; $left > 0 && $this->take($run); $left--) {
            try {
                $this->attempt($run, $progress);

                break;
            } catch (Overtaken) {
                // By another process, or by somebody who deleted the endpoint.
                return Run::query()->find($run->id) ?? $run;
            } catch (ConnectionLost $lost) {
                $this->awaitDatabase($run, $lost);
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
            'state' => RunState::Running->value, 'attempt' => DB::raw('attempt + 1'), 'heartbeat_at' => $now, 'started_at' => DB::raw("coalesce(started_at, '$now')"), 'waits_for' => null, 'stop_how' => null,
        ]);
        $run->refresh();

        return $taken === 1;
    }

    /**
     * @throws ConnectionLost
     * @throws Overtaken
     */
    private function attempt(Run $run, ?\Closure $progress): void
    {
        $recorder = new RunRecorder($run, $this->evidence);
        $endpoint = $run->endpoint;
        $staging = null;
        $keeps = false;
        try {
            $file = $run->file();
            $definition = $file->endpoint($endpoint->slug) ?? throw KeepFailed::because("The published version has no endpoint {$endpoint->slug}.");
            if ($definition->does()->writes()) {
                throw KeepFailed::because("{$definition->name} writes. A table is read again and again, so it is kept only from what reads; if this only reads, say so under Ask: it lists, or gets one.");
            }
            // A long try needs no columns: then it only counts records.
            $plan = $definition->plan($run->created_at->toDateTimeImmutable()) ?? ($run->isTry() ? Plan::of(['table' => 'records', 'columns' => [['name' => 'record', 'from' => '$', 'type' => 'json']]]) : throw KeepFailed::because('No columns are chosen yet. Choose them under Flatten, then publish.'));
            $recorder->conceal = $plan->isMasked() ? (new Concealing($plan, $definition->answer(), $this->vault->masks()))->body(...) : null;
            $staging = new Staging(DB::connection('keeper'), $run->environment->schema(), $run->owner(), $plan, base_path(config('spring.var').'/tmp'));
            if (! $run->isTry() && ! $run->isRebuild()) {
                $staging->keepPages((int) config('spring.limits.kept_pages_bytes'));
            }
            if (! $run->isTry()) {
                $this->refuseForeignTables($staging, $endpoint, $run->environment);
            }
            $left = $staging->begin($run->id, $run->attempt);
            $keeps = match (true) {
                $run->isRebuild() => $this->rebuild($run, $definition, $plan, $staging, $recorder, $progress),
                $left === null && ! $run->isTry() && $this->onlyChanges($run, $file, $definition, $plan, $staging, $recorder) => false,
                default => $this->read($run, $file, $definition, $plan, $staging, $recorder, $left, $progress),
            };
        } catch (ConnectionLost|Overtaken $gone) {
            $keeps = true;

            throw $gone;
        } catch (ReadingFailed $failed) {
            // Paging that cannot be right would only go wrong again.
            $keeps = $run->continuable && ! in_array($failed->diagnosis->code, ['onward', 'key-gone', 'records-gone'], true);
            $this->fail($run, $recorder, $failed->diagnosis);
        } catch (KeepFailed $failed) {
            $this->fail($run, $recorder, new Diagnosis('keep', $failed->getMessage(), 'The tables are as they were.', 'keep'));
        } catch (FlattenFailure $failed) {
            $this->fail($run, $recorder, new Diagnosis('flatten', $failed->getMessage(), 'The tables are as they were.', 'flatten'));
        } catch (\Throwable $failed) {
            if ((new LostConnectionDetector)->causedByLostConnection($failed)) {
                $keeps = true;

                throw ConnectionLost::because($failed->getMessage());
            }
            report($failed);
            $this->fail($run, $recorder, $failed instanceof \PDOException
                ? new Diagnosis('database', 'The database did not take the rows: '.mb_strimwidth($failed->getPrevious()?->getMessage() ?? $failed->getMessage(), 0, 300, '…'), 'The tables are as they were.', 'keep')
                : new Diagnosis('unexpected', 'The run ended by a fault of this application.', 'The tables are as they were. The log has the details.', 'keep'));
        } finally {
            $this->quietly(fn () => $staging?->end($keeps), $keeps);
        }
        if (! $keeps) {
            $run->continuable = false;
        }
        $run->fill(['ended_at' => Carbon::now(), 'active' => null, 'waits_for' => null]);
        $recorder->save(true);
        if ($recorder->isGone) {
            throw new Overtaken;
        }
    }

    /**
     * @param  array<string, mixed>|null  $left  what an earlier process got to
     * @return bool whether what was read stays for a later process
     */
    private function read(Run $run, SourceFile $file, EndpointDefinition $endpoint, Plan $plan, Staging $staging, RunRecorder $recorder, ?array $left, ?\Closure $progress): bool
    {
        $source = $file->source();
        $reading = new Reading($this->transport, $this->vault, $run->endpoint->source, $source, $run->environment);
        $recorder->mask = $reading->mask(...);
        $reading->recordTokens(function (Sent $sent, SecretMask $mask) use ($run): void {
            if ($sent->status === null || $sent->status >= 400) {
                $this->evidence->write($sent, $mask, 0, null, runId: $run->id, purpose: EvidenceWriter::TOKEN);
            }
        });
        $drift = $run->isTry() ? null : new DriftWatch($run, $endpoint, $plan);
        $rows = new PagesToRows($run, $endpoint, $plan, $staging, $this->vault->masks(), $drift);
        // The way to the next page may hold a secret that the service repeats in it.
        $rows->seal = fn (string $json): ?string => $reading->mask()->touches($json) ? $this->vault->seal($json) : null;
        if ($left !== null) {
            $left = $this->opened($left);
            if ($drift !== null) {
                $drift->isWhole = false;
            }
            $rows->goOn($left);
            $recorder->log(2, null, 'goes-on', $left['finished'] ? 'All pages are there already; only the tables have to be put in place.' : "Goes on with page {$left['position']['page']}, from what an earlier process had loaded.");
            if ($left['finished']) {
                $this->keep($run, $staging, $left['ended'], $left['findings'], $recorder);

                return false;
            }
        } else {
            $this->anew($run);
            $rows->begin();
            $recorder->log(2, null, 'begins', ($run->isTry() ? "Tries what is drafted of {$source->name} to its end" : "Reads version {$run->version} of {$source->name}")." in {$run->environment->name}".($run->attempt > 1 ? ', from the first page' : '').'.');
        }
        $recorder->save(true);
        $streams = ! $run->isTry() && in_array($endpoint->answer()->format, ['auto', 'json'], true) && JsonRecords::of(static fn (int $bytes): string => '', $endpoint->answer()->records) !== null;
        $limits = new Limits($source->pace->timeout, $source->pace->tries, (int) config($streams ? 'spring.limits.streamed_bytes' : 'spring.limits.answer_bytes'), large: $streams ? (int) config('spring.limits.large_bytes') : null);
        $pacer = new Pacer($this->book, $run->endpoint->source_id, $run->environment_id, $source->pace);
        $unchanged = new Unchanged($run, $endpoint, $source);
        // Documents hold no cycles; looking for some after every few thousand values costs a tenth.
        gc_disable();
        $reader = new Pages($reading, $this->transport);
        $pages = $reader->read($endpoint, $endpoint->ask()->tryValues(), $limits, $recorder, $pacer, null, $left === null ? null : Position::fromArray($left['position']), $left === null && ! $run->isTry() ? $unchanged->headers() : []);
        $position = null;
        $changes = null;
        try {
            foreach ($pages as $page) {
                $changes = $page->changes ?? $changes;
                $rows->take($page, $reader->walk);
                if ($page->sent->stream !== null) {
                    $staging->dropPages();
                }
                $body = $recorder->conceal === null ? $page->sent->body : ($recorder->conceal)($page->sent->body, $page->sent->contentType());
                $body === null ? $staging->dropPages() : $staging->addPage($page->number, $page->sent->contentType(), $body);
                unset($body);
                $run->total = $reader->walk?->total();
                if ($page->number === 1 && ! $page->isPart) {
                    // A mark that is made of a secret is not kept to be asked with.
                    $unchanged->see(array_filter($page->sent->headers, static fn (string $value): bool => ! $reading->mask()->touches($value)));
                }
                $position = $page->position;
                if ($staging->isDue() && ($position !== null || $page->isPart)) {
                    $staging->commit($page->isPart ? null : $rows->state($position));
                    $run->continuable = ! $page->isPart;
                }
                unset($page);
                $recorder->save();
                if ($progress !== null) {
                    $progress($run);
                }
                if ($recorder->isOvertaken) {
                    throw new Overtaken;
                }
                if ($recorder->stopsAfterPage && $position !== null) {
                    return $this->stop($run, $staging, $rows, $position, $recorder, 'after page '.$run->pages);
                }
            }
        } catch (Stopped) {
            if ($recorder->isOvertaken) {
                throw new Overtaken;
            }

            return $this->stop($run, $staging, $rows, $position, $recorder, 'at once');
        } catch (ReadingFailed $failed) {
            if ($position !== null && $failed->page !== $run->pages) {
                $staging->commit($rows->state($position));
                $run->continuable = true;
            }
            $staging->settle();
            $recorder->keepLast();

            throw $failed;
        } finally {
            gc_enable();
        }
        $end = $pages->getReturn();
        if ($end->reason === EndReason::Unchanged) {
            $this->leave($run, $unchanged, $recorder);

            return false;
        }
        $this->refuseLoss($drift);
        $findings = array_map(static fn (PagingFinding $finding): array => ['sentence' => $reading->mask()->apply($finding->sentence)] + $finding->toArray(), $reader->walk?->findings() ?? []);
        $ended = $reading->mask()->apply($reader->walk?->proof() ?? $end->sentence);
        $recorder->log(2, null, 'loads', $run->isTry() ? 'All pages are there.' : 'All pages are there; the rest is loaded and the tables are put in place.');
        $recorder->save(true);
        $recorder->beat(600);
        $staging->finish(['ended' => $ended, 'findings' => $findings] + $rows->state(null));
        $this->keep($run, $staging, $ended, $findings, $recorder);
        if (! $run->isTry()) {
            $unchanged->remember();
            ChangeLink::remember($run, $endpoint, $source, ($endpoint->endpoint['track'] ?? false) === true && $changes !== null ? $this->vault->seal($changes) : null);
        }
        $this->note($drift, $recorder);

        return false;
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

    /**
     * Asks only what changed since the last run, where the service keeps track of that.
     *
     * @return bool whether that was enough
     */
    private function onlyChanges(Run $run, SourceFile $file, EndpointDefinition $endpoint, Plan $plan, Staging $staging, RunRecorder $recorder): bool
    {
        $source = $file->source();
        $since = ChangeLink::of($run, $endpoint, $source);
        if ($since === null) {
            return false;
        }
        $reading = new Reading($this->transport, $this->vault, $run->endpoint->source, $source, $run->environment);
        $recorder->mask = $reading->mask(...);
        $this->anew($run);
        $recorder->log(2, null, 'begins', "Asks {$source->name} what changed since ".$since->updated_at->format('Y-m-d H:i:s').' UTC.');
        $recorder->save(true);
        try {
            $changes = new ChangesRun($endpoint, $plan);
            $rows = new PagesToRows($run, $endpoint, $plan, $staging, $this->vault->masks());
            $rows->begin();
            $limits = new Limits($source->pace->timeout, $source->pace->tries, (int) config('spring.limits.answer_bytes'));
            $ended = $changes->read($since, $this->vault->unseal($since->link) ?? $since->link, new Pages($reading, $this->transport), $limits, $recorder, new Pacer($this->book, $run->endpoint->source_id, $run->environment_id, $source->pace), $staging, $rows);
        } catch (ChangesUnusable $unusable) {
            $recorder->log(1, null, 'whole', "Everything is read: {$unusable->getMessage()}.");
            ChangeLink::remember($run, $endpoint, $source, null);

            return false;
        } catch (Stopped) {
            if ($recorder->isOvertaken) {
                throw new Overtaken;
            }
            $this->stop($run, $staging, new PagesToRows($run, $endpoint, $plan, $staging, $this->vault->masks()), null, $recorder, 'at once');

            return true;
        }
        // Answers of an earlier run would make the table what it was then.
        $staging->dropPages();
        $staging->finish(['ended' => $ended, 'findings' => []] + $rows->state(null));
        (new KeptPages(DB::connection('keeper'), $run->environment->schema(), $run->owner()))->forget();
        $this->keep($run, $staging, $ended, [], $recorder);
        ChangeLink::remember($run, $endpoint, $source, $changes->link === null ? null : $this->vault->seal($changes->link));

        return true;
    }

    private function anew(Run $run): void
    {
        $run->fill(['pages' => 0, 'records' => 0, 'rows' => 0, 'rejects' => 0, 'filtered' => 0, 'duplicates' => 0, 'bytes' => 0, 'findings' => null, 'diagnosis' => null, 'ended' => null, 'ended_at' => null, 'continuable' => false]);
    }

    /**
     * The tables from the pages of the last complete run, by what is published now.
     *
     * @return false it is begun anew if it is interrupted
     */
    private function rebuild(Run $run, EndpointDefinition $endpoint, Plan $plan, Staging $staging, RunRecorder $recorder, ?\Closure $progress): bool
    {
        $kept = new KeptPages(DB::connection('keeper'), $run->environment->schema(), $run->owner());
        $about = $kept->about() ?? throw KeepFailed::because('No pages are kept, so the tables can only be refreshed from the API.');
        $run->fill(['pages' => 0, 'records' => 0, 'rows' => 0, 'rejects' => 0, 'filtered' => 0, 'duplicates' => 0, 'bytes' => 0, 'findings' => null, 'diagnosis' => null, 'ended' => null, 'ended_at' => null, 'continuable' => false, 'total' => null]);
        $drift = new DriftWatch($run, $endpoint, $plan);
        $rows = new PagesToRows($run, $endpoint, $plan, $staging, $this->vault->masks(), $drift);
        $rows->begin();
        $recorder->log(2, null, 'begins', "Makes the tables of version {$run->version} from the ".Show::count($about['pages'], 'page')." kept since {$about['kept_at']} UTC, without a request.");
        $recorder->save(true);
        gc_disable();
        try {
            foreach ($kept->pages() as $number => [$type, $body]) {
                $run->bytes += strlen($body);
                $read = $endpoint->answer()->read($body, $type);
                $page = $endpoint->answer()->pageOf($read);
                $rows->take(new ReadPage($number, $read->document, $page->values, Sent::kept($type, $body), null, $page, $read->bad), null);
                unset($read, $page, $body);
                if ($staging->isDue()) {
                    $staging->commit(['position' => null]);
                }
                $recorder->save();
                if ($progress !== null) {
                    $progress($run);
                }
                if (! $recorder->goesOn()) {
                    throw new Stopped;
                }
            }
        } catch (Stopped) {
            if ($recorder->isOvertaken) {
                throw new Overtaken;
            }
            $run->fill(['state' => RunState::Stopped, 'ended' => 'Stopped by hand. The tables are as they were.']);

            return false;
        } catch (UnreadableAnswer $unreadable) {
            throw KeepFailed::because("Page {$run->pages} of those that are kept cannot be read by what is published now: {$unreadable->getMessage()}");
        } finally {
            gc_enable();
        }
        $this->refuseLoss($drift);
        $staging->finish($rows->state(null));
        $this->keep($run, $staging, Show::count($about['pages'], 'page').' that were kept, without a request.', [], $recorder);
        $this->note($drift, $recorder);

        return false;
    }

    /**
     * @throws ReadingFailed when the tables would lose what they hold
     */
    private function refuseLoss(?DriftWatch $drift): void
    {
        $refusal = $drift?->refusal();
        if ($refusal !== null) {
            throw ReadingFailed::because($refusal);
        }
    }

    private function note(?DriftWatch $drift, RunRecorder $recorder): void
    {
        foreach ($drift?->remember() ?? [] as $change) {
            $recorder->log(1, null, 'drift', $change->sentence);
        }
    }

    private function stop(Run $run, Staging $staging, PagesToRows $rows, ?Position $position, RunRecorder $recorder, string $how): bool
    {
        if ($position !== null) {
            $staging->commit($rows->state($position));
            $staging->settle();
        }
        $ended = "Stopped by hand $how. The tables are as they were".($position === null ? '.' : ", and it can be run on from page {$position->page}.");
        $run->fill(['state' => RunState::Stopped, 'ended' => $ended, 'continuable' => $position !== null]);
        $recorder->log(1, null, 'stopped', $ended);

        return $position !== null;
    }

    /**
     * @param  list<array{code: string, sentence: string, doubt: bool}>  $findings
     */
    private function keep(Run $run, Staging $staging, string $ended, array $findings, RunRecorder $recorder): void
    {
        if ($run->isTry()) {
            $run->fill(['state' => RunState::Done, 'rows' => $staging->rows, 'duplicates' => $staging->duplicates, 'ended' => mb_substr($ended, 0, 500), 'findings' => $findings === [] ? null : $findings]);
            $recorder->log(1, null, 'done', "$ended Nothing was kept.");

            return;
        }
        if (! $staging->isSwapped) {
            $staging->swap();
        }
        $now = Carbon::now();
        DB::transaction(function () use ($run, $staging, $ended, $findings, $now): void {
            foreach ($staging->shapes as $number => $shape) {
                KeptTable::query()->updateOrCreate(
                    ['environment_id' => $run->environment_id, 'name' => $shape->name],
                    [
                        'endpoint_id' => $run->endpoint_id, 'run_id' => $run->id, 'is_branch' => $number > 0,
                        'given_name' => $shape->given(), 'columns' => array_map(static fn ($column): array => $column->toArray(), $shape->columns),
                        'key' => $shape->key, 'rows' => $staging->rowsOf[$number], 'refreshed_at' => $now,
                    ],
                );
            }
            $run->fill(['state' => RunState::Done, 'rows' => $staging->rows, 'duplicates' => $staging->duplicates, 'ended' => mb_substr($ended, 0, 500), 'findings' => $findings === [] ? null : $findings])->save();
        });
        foreach ($findings as $finding) {
            $recorder->log($finding['doubt'] ? 1 : 2, null, $finding['code'], $finding['sentence']);
        }
        $recorder->log(1, null, 'done', $ended);
    }

    /**
     * Nothing has changed at the source, so the tables are as good as read anew.
     */
    private function leave(Run $run, Unchanged $unchanged, RunRecorder $recorder): void
    {
        $tables = KeptTable::query()->where('endpoint_id', $run->endpoint_id)->where('environment_id', $run->environment_id);
        $ended = "Nothing has changed since {$unchanged->since()} UTC: the service said so in one request (304).";
        $run->fill(['state' => RunState::Done, 'rows' => (int) $tables->sum('rows'), 'pages' => 1, 'ended' => $ended]);
        $tables->update(['refreshed_at' => Carbon::now()->format('Y-m-d H:i:s.u')]);
        $recorder->log(1, null, 'unchanged', $ended);
    }

    private function fail(Run $run, RunRecorder $recorder, Diagnosis $diagnosis): void
    {
        $run->fill(['state' => RunState::Failed, 'diagnosis' => $diagnosis->toArray(), 'rows' => 0]);
        $recorder->log(1, null, $diagnosis->code, "{$diagnosis->what} {$diagnosis->advice}");
    }

    /**
     * Until the database answers again; then the run waits to be gone on with.
     */
    private function awaitDatabase(Run $run, ConnectionLost $lost): void
    {
        for ($until = microtime(true) + self::DATABASE; ; usleep(500_000)) {
            try {
                DB::connection('keeper')->reconnect();
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

    /**
     * A table belongs to the endpoint that made it; another one does not write over it.
     */
    private function refuseForeignTables(Staging $staging, Endpoint $endpoint, Environment $environment): void
    {
        foreach ($staging->shapes as $shape) {
            $there = KeptTable::query()->with('endpoint.source')->where('environment_id', $environment->id)->where('name', $shape->name)->first();
            if ($there !== null && $there->endpoint_id !== $endpoint->id) {
                throw KeepFailed::because("A table {$shape->name} is kept in {$environment->name} already, by {$there->endpoint->source->name} › {$there->endpoint->name}. Give this one another name under Flatten.");
            }
        }
    }
}
