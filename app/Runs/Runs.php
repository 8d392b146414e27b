<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Run;
use App\Models\RunEvent;
use App\Models\RunState;
use App\Models\User;
use App\Reservoir\TableStore;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Flatten\Plan;
use DeepSpring\SourceFile\SourceFile;
use DeepSpring\Value\Phrase;
use Illuminate\Database\Eloquent\Builder;
use Illuminate\Database\UniqueConstraintViolationException;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;
use Illuminate\Support\Facades\Queue;

/**
 * Runs as a whole: asking for one, stopping one, going on with one, noticing those whose process
 * died.
 */
final class Runs
{
    /** Seconds that a run may be under way before its lock is looked at. */
    private const GRACE = 3;

    /** Seconds without a sign of life after which it is dead, whatever the lock says: its machine may be gone. */
    private const SILENT = 45;

    /** Processes that may die over one run, none of which got further, before it is given up. */
    private const DEATHS = 8;

    public function __construct(private readonly TableStore $store)
    {
    }

    /**
     * The run that is under way already, or a new one with what is published.
     */
    public function ask(Endpoint $endpoint, Environment $environment, ?User $by, RunWish $wish = new RunWish): Run
    {
        $this->rescue();
        $active = "{$endpoint->id}/{$environment->id}";
        $version = $endpoint->source->published_version ?? throw new \LogicException('Nothing is published yet.');
        $flatten = $endpoint->source->published()?->endpoint($endpoint->slug)?->endpoint['flatten'] ?? [];
        try {
            return Run::query()->where('active', $active)->first() ?? Run::query()->create([
                'endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'user_id' => $by?->id, 'active' => $active, 'every_exchange' => $wish->everyExchange, 'kind' => $wish->rebuild ? 'rebuild' : 'refresh', 'whole' => $wish->whole || $wish->takesAny, 'takes_any' => $wish->takesAny,
                'tables' => mb_substr(implode(' ', array_filter(array_column($flatten === [] ? [] : Plan::tablesIn($flatten), 'table'))), 0, 500),
                'version' => $version, 'state' => RunState::Queued, 'begun_by' => $wish->begunBy === null ? null : mb_substr($wish->begunBy->words, 0, 300), 'chain' => $wish->begunBy?->chain ?: null,
                'known_since' => $wish->failedRows || $wish->takesAny ? $this->lastRead($endpoint, $environment)?->known_since : null,
            ]);
        } catch (UniqueConstraintViolationException) {
            return Run::query()->where('active', $active)->firstOrFail();
        }
    }

    private function lastRead(Endpoint $endpoint, Environment $environment): ?Run
    {
        return Run::query()->where(['endpoint_id' => $endpoint->id, 'environment_id' => $environment->id])->where('kind', '!=', 'try')->latest('id')->first();
    }

    /**
     * A run that reads all of what is drafted and keeps nothing: whether it can be read to its end,
     * and whether its records fit.
     */
    public function prove(Endpoint $endpoint, SourceFile $file, Environment $environment, ?User $by): Run
    {
        $active = "try {$endpoint->id}/{$environment->id}";
        try {
            $run = Run::query()->where('active', $active)->first() ?? Run::query()->create([
                'endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'user_id' => $by?->id, 'active' => $active,
                'kind' => 'try', 'document' => $file->json(), 'version' => $endpoint->source->published_version ?? 0, 'state' => RunState::Queued,
            ]);
        } catch (UniqueConstraintViolationException) {
            $run = Run::query()->where('active', $active)->firstOrFail();
        }

        return $run;
    }

    /**
     * As ask(), and into the queue; from within a transaction once that is committed.
     */
    public function queue(Endpoint $endpoint, Environment $environment, ?User $by, RunWish $wish = new RunWish): Run
    {
        $run = $this->ask($endpoint, $environment, $by, $wish);
        if ($run->wasRecentlyCreated) {
            RefreshJob::dispatch($run->id)->afterCommit();
        }

        return $run;
    }

    /**
     * @param  bool  $now  in the middle of a page, and not after it
     */
    public function stop(Run $run, bool $now = false): void
    {
        $stopped = DB::table('runs')->where('id', $run->id)->where('state', RunState::Queued->value)->update(['state' => RunState::Stopped->value, 'active' => null, 'ended' => 'Stopped before it went on.', 'ended_at' => Carbon::now()]);
        if ($stopped === 0) {
            DB::table('runs')->where('id', $run->id)->where('state', RunState::Running->value)->update(['stop_how' => $now ? 'now' : 'after-page']);
        }
    }

    /**
     * Whether a run that ended can be gone on with from where it was: what it read is still there,
     * and nothing newer has begun.
     */
    public function mayGoOn(Run $run): bool
    {
        return $run->continuable && in_array($run->state, [RunState::Failed, RunState::Stopped], true)
            && ! Run::query()->where('endpoint_id', $run->endpoint_id)->where('environment_id', $run->environment_id)->where('kind', $run->kind)->where('id', '>', $run->id)->exists();
    }

    /**
     * Goes on with a run that broke or was stopped.
     *
     * @return bool false when it cannot be
     */
    public function goOn(Run $run, bool $queued = true): bool
    {
        if (! $this->mayGoOn($run)) {
            return false;
        }
        try {
            $taken = DB::table('runs')->where('id', $run->id)->whereIn('state', [RunState::Failed->value, RunState::Stopped->value])->update(['state' => RunState::Queued->value, 'active' => ($run->isTry() ? 'try ' : '')."{$run->endpoint_id}/{$run->environment_id}", 'ended_at' => null, 'ended' => null, 'diagnosis' => null, 'stop_how' => null]);
        } catch (UniqueConstraintViolationException) {
            return false;
        }
        if ($taken === 1 && $queued) {
            RefreshJob::dispatch($run->id);
        }

        return $taken === 1;
    }

    /**
     * Notices runs whose process died and lets another one go on with them. A run under way holds a
     * lock of the database as long as its process lives, and gives a sign of life every second; one
     * without the lock, or long silent, has died.
     */
    public function rescue(): void
    {
        $now = Carbon::now();
        $at = static fn (int $seconds): string => $now->copy()->addSeconds($seconds)->format('Y-m-d H:i:s.u');
        // One whose sign of life lies ahead has said that it will be silent for a while; its lock tells all the same.
        $quiet = Run::query()->with('environment')->where('state', RunState::Running)->where(static fn (Builder $either) => $either->where('heartbeat_at', '<', $at(-self::GRACE))->orWhere('heartbeat_at', '>', $at(self::GRACE)))->get();
        foreach ($quiet as $run) {
            $holder = $this->store->writer($run->environment, $run->owner());
            $isSilent = $run->heartbeat_at !== null && $run->heartbeat_at < $now->copy()->subSeconds(self::SILENT);
            if ($holder !== null && ! $isSilent) {
                continue;
            }
            if ($holder !== null) {
                // Its machine is gone, or it hangs: its connection must not keep the tables.
                $this->store->disconnect($holder);
            }
            $this->revive($run);
        }
        $this->requeueLost($now);
    }

    private function revive(Run $run): void
    {
        // A long run outlives many processes; only those that got nowhere count.
        $deaths = $run->pages > $run->died_at_page ? 1 : $run->deaths + 1;
        $isHopeless = $deaths >= self::DEATHS;
        $mine = DB::table('runs')->where('id', $run->id)->where('attempt', $run->attempt)->where('state', RunState::Running->value);
        if ($isHopeless) {
            $diagnosis = new Diagnosis('died', 'The process that read this ended in the middle '.Phrase::count($deaths, 'time').' without getting a page further.', 'The tables are as they were. The log says how far it got each time.', 'keep');
            $mine->update(['state' => RunState::Failed->value, 'active' => null, 'ended_at' => Carbon::now(), 'diagnosis' => json_encode($diagnosis->toArray())]);

            return;
        }
        if ($mine->update(['deaths' => $deaths, 'died_at_page' => $run->pages, 'state' => RunState::Queued->value, 'waits_for' => 'a worker to go on with it', 'updated_at' => Carbon::now()]) === 1) {
            RunEvent::query()->insert(['run_id' => $run->id, 'level' => 2, 'at' => microtime(true), 'page' => $run->pages, 'kind' => 'died', 'text' => "The process that read this ended after page {$run->pages}. Another one goes on from what is safe."]);
            RefreshJob::dispatch($run->id);
        }
    }

    /**
     * Runs that wait though the queue holds nothing for them.
     */
    private function requeueLost(Carbon $now): void
    {
        // One that seems to have been queued in time to come was so by a clock that was ahead.
        $waiting = Run::query()->where('state', RunState::Queued)
            ->where(static fn (Builder $either) => $either->where('updated_at', '<', $now->copy()->subSeconds(self::SILENT))->orWhere('updated_at', '>', $now->copy()->addSeconds(self::SILENT)))->pluck('id');
        if ($waiting->isNotEmpty() && Queue::pendingSize() === 0) {
            foreach ($waiting as $id) {
                DB::table('runs')->where('id', $id)->update(['updated_at' => Carbon::now()]);
                RefreshJob::dispatch((int) $id);
            }
        }
    }
}
