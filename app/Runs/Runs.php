<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\Endpoint;
use App\Models\Environment;
use App\Models\Run;
use App\Models\RunState;
use App\Models\User;
use App\Reservoir\Staging;
use DeepSpring\Diagnose\Diagnosis;
use Illuminate\Support\Carbon;
use Illuminate\Support\Facades\DB;

/**
 * Runs as a whole: asking for one, stopping one, noticing those whose worker died.
 */
final class Runs
{
    /** Seconds that a run may be under way before its lock is looked at. */
    private const GRACE = 3;

    /**
     * The run that is under way already, or a new one with what is published.
     */
    public function ask(Endpoint $endpoint, Environment $environment, ?User $by): Run
    {
        $this->buryDead();
        $under = Run::query()->where('endpoint_id', $endpoint->id)->where('environment_id', $environment->id)->whereIn('state', [RunState::Queued, RunState::Running])->latest('id')->first();

        return $under ?? Run::query()->create([
            'endpoint_id' => $endpoint->id, 'environment_id' => $environment->id, 'user_id' => $by?->id,
            'version' => $endpoint->source->published_version ?? throw new \LogicException('Nothing is published yet.'), 'state' => RunState::Queued,
        ]);
    }

    public function queue(Endpoint $endpoint, Environment $environment, ?User $by): Run
    {
        $run = $this->ask($endpoint, $environment, $by);
        if ($run->wasRecentlyCreated) {
            RefreshJob::dispatch($run->id);
        }

        return $run;
    }

    public function stop(Run $run): void
    {
        if ($run->state === RunState::Queued) {
            $run->fill(['state' => RunState::Stopped, 'ended' => 'Stopped before it began.', 'ended_at' => Carbon::now()])->save();
        } else {
            Run::query()->whereKey($run->id)->update(['stop_asked' => true]);
        }
    }

    /**
     * A run under way holds a lock of the database as long as its process lives; one without it
     * has died.
     */
    public function buryDead(): void
    {
        foreach (Run::query()->with('environment')->where('state', RunState::Running)->where('started_at', '<', Carbon::now()->subSeconds(self::GRACE))->get() as $run) {
            $lock = DB::connection('keeper')->selectOne('select is_free_lock(?) as free', [Staging::lockName($run->environment->schema(), "e{$run->endpoint_id}")], false);
            if ((int) ($lock->free ?? 0) === 1) {
                Run::query()->whereKey($run->id)->where('state', RunState::Running)->update([
                    'state' => RunState::Failed, 'ended_at' => Carbon::now(),
                    'diagnosis' => json_encode((new Diagnosis('died', 'The process that read this ended in the middle.', 'The tables are as they were. Refresh again.', 'keep'))->toArray()),
                ]);
            }
        }
    }
}
