<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\ChangeSet;
use App\Models\ChangeSetState;
use App\Pace\Pacer;
use App\Pace\RateLimitStore;
use App\Pace\Ticks;
use App\Pipeline\ReadingFailed;
use App\Pipeline\SourceConnection;
use App\Pipeline\SourceConnections;
use App\Reservoir\RowPatches;
use App\Secrets\NamedLock;
use App\Secrets\Vault;
use App\Transport\Limits;
use App\Transport\Sent;
use DeepSpring\Change\ChangeState;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Facades\DB;

/**
 * Sends the changes of a set: several at once as far as the pace allows, each as a `Flight`. What is on its way is
 * marked before it leaves, so that after a death everybody knows what may have been sent.
 */
final class Courier
{
    /** Seconds between two signs of life. */
    private const BEAT = 1.0;

    /** Seconds until it is looked again whether others leave room for a request. */
    private const HUNGRY = 0.05;

    /** @var array<int, Flight> by change */
    private array $flights = [];

    private float $beaten = 0.0;

    private int $sentNow = 0;

    /** @var array<string, int> what came of those that were on their way, by state */
    private array $landed = [];

    private ?string $stops = null;

    private ?string $waits = null;

    public function __construct(private readonly SourceConnections $connections, private readonly Vault $vault, private readonly RateLimitStore $rates, private readonly RowPatches $patches, private readonly Landing $landing, private readonly ReadAgain $again)
    {
    }

    /**
     * Takes a set that waits and sends it, unless another process was quicker.
     */
    public function run(ChangeSet $set): void
    {
        $now = now()->format('Y-m-d H:i:s.u');
        $taken = DB::table('change_sets')->where(['id' => $set->id, 'state' => ChangeSetState::Queued->value])->update(['state' => ChangeSetState::Sending->value, 'attempt' => DB::raw('attempt + 1'), 'heartbeat_at' => $now, 'started_at' => DB::raw("coalesce(started_at, '$now')"), 'stop_how' => null, 'ended' => null, 'waits_for' => null]);
        $lock = self::lock($set);
        if ($taken !== 1 || ! $lock->take(5)) {
            return;
        }
        $set->refresh();
        [$this->flights, $this->sentNow, $this->landed, $this->stops] = [[], 0, [], null];
        try {
            $ended = $this->send($set);
            $this->end($set, $ended);
        } catch (ReadingFailed $failed) {
            $this->end($set, $failed->diagnosis->what);
        } catch (CannotChange $cannot) {
            $this->end($set, $cannot->getMessage());
        } finally {
            $lock->release();
        }
    }

    public static function lock(ChangeSet $set): NamedLock
    {
        return NamedLock::of(DB::connection(), 'changes', (string) $set->id);
    }

    /**
     * @throws ReadingFailed
     * @throws CannotChange
     */
    private function send(ChangeSet $set): string
    {
        $table = ChangeTable::named($set->endpoint, $set->environment, $set->table) ?? throw CannotChange::because('The table is no longer kept, or its source no longer says how it is changed. What is pending stays.');
        $definition = $table->file->source();
        $connection = $this->connections->open($set->endpoint->source, $definition, $set->environment, $set->user);
        $pacer = new Pacer($this->rates, $set->endpoint->source_id, $set->environment_id, $definition->pace, true);
        $rules = new FlightRules($table, $connection, new RecordReader($table, $this->vault), $definition->pace->tries);
        $this->landing->open($set, $table, new KeptRows($table, $this->patches), $connection);
        $queue = new Departures($set, $table);
        $traffic = new Traffic($table, $connection, $pacer, $rules, $this->landing, new Limits($definition->pace->timeout, 1, (int) config('spring.limits.answer_bytes')), self::bundling($table, $connection, (string) $definition->base($set->environment->slug)));
        $queue->recover($traffic->bundles()) && $this->again->afterDeath($set, $table);
        try {
            for (; ;) {
                $this->beat($set);
                $traffic->collect($this->flights, $queue->mayWait());
                $landed = $this->landed();
                $this->stops ??= $traffic->stops;
                $requests = $pacer->atOnce($definition->pace->atOnce, $traffic->underWay($this->flights));
                $room = $this->stops === null ? $traffic->room($requests) - count($this->flights) : 0;
                $room = $set->first === null ? $room : min($room, $set->first - $this->sentNow - count($this->flights));
                $this->stops === null || $this->callBack();
                // Those that are marked leave before anything is written down, so that their places stay empty no longer than they must.
                $early = $queue->isReady(max(0, $room)) ? $queue->next(max(0, $room)) : [];
                $this->begin($early, $rules);
                // What was begun is on the wire only after a tick.
                $traffic->launch($this->flights, $requests) === 0 || $connection->tick();
                $this->begin($this->departing($landed, max(0, $room - count($early)), $requests, $queue), $rules);
                $this->landing->catchUp();
                $isEnough = $set->first !== null && $this->sentNow >= $set->first;
                if ($this->flights === [] && ($this->stops !== null || $isEnough || $queue->isOver())) {
                    $this->landing->flush();

                    return trim($this->told().' '.($this->stops ?? ($isEnough ? 'Stopped after the first '.Phrase::number((int) $set->first).', as it was asked to.' : self::left($queue))));
                }
                $this->waits = $this->flights === [] ? 'other requests to the same source' : null;
                $traffic->launch($this->flights, $requests);
                $this->wait($connection, $traffic->underWay($this->flights) > 0);
            }
        } finally {
            $this->landing->flush();
            $queue->release();
            $traffic->cancel($this->flights);
            $pacer->release();
        }
    }

    /**
     * What landed and what leaves next are written down together, where anything has to be.
     *
     * @param  list<Flight>  $landed
     * @param  int  $requests  that may be under way at once
     * @return list<array{Flight, bool}>
     */
    private function departing(array $landed, int $room, int $requests, Departures $queue): array
    {
        $isUrgent = $this->landing->isUrgent($landed);
        $move = function () use ($landed, $room, $requests, $queue, $isUrgent): array {
            $this->landing->land($landed);
            $next = $room > 0 ? $queue->next($room) : [];
            $isUrgent && $this->stops === null && $queue->markAhead($requests);

            return $next;
        };

        return $isUrgent || ! $queue->isReady($room) ? DB::transaction($move) : $move();
    }

    /**
     * @param  list<array{Flight, bool}>  $leaving
     */
    private function begin(array $leaving, FlightRules $rules): void
    {
        foreach ($leaving as [$flight, $isUnknown]) {
            $this->flights[$flight->change->id] = $flight;
            $flight->wasSent = $isUnknown;
            $rules->begin($flight, $isUnknown);
        }
    }

    private static function bundling(ChangeTable $table, SourceConnection $connection, string $base): ?Bundling
    {
        return match (true) {
            $table->plan->batch() !== null => new BatchBundling($table, $connection, $base),
            $table->plan->travelsTogether() => new BodyBundling($table, $connection),
            default => null,
        };
    }

    /**
     * What has not left yet, or waits to be looked at again, stays pending once somebody stops it.
     */
    private function callBack(): void
    {
        foreach ($this->flights as $flight) {
            if ($flight->transfer === null && ! $flight->isBundled && $flight->outcome === null && $flight->writes === 0 && ! $flight->wasSent && in_array($flight->step, [FlightStep::Look, FlightStep::Write], true)) {
                $flight->ends(ChangeState::Pending);
            }
        }
    }

    /**
     * @return list<Flight> whose end is known now
     */
    private function landed(): array
    {
        $landed = [];
        foreach ($this->flights as $id => $flight) {
            if ($flight->outcome !== null) {
                $landed[] = $flight;
                $this->landed[$flight->outcome->value] = ($this->landed[$flight->outcome->value] ?? 0) + 1;
                unset($this->flights[$id]);
                $this->sentNow += $flight->writes > 0 ? 1 : 0;
                if ($flight->outcome === ChangeState::Pending && $flight->reason !== '') {
                    $this->stops ??= $flight->reason;
                }
            }
        }

        return $landed;
    }

    /**
     * "3 done, 1 refused."
     */
    private function told(): string
    {
        $words = ['done' => 'done', 'refused' => 'refused', 'conflict' => 'changed meanwhile by somebody else', 'unknown' => 'unknown'];
        $told = array_map(fn (string $state): string => Phrase::number($this->landed[$state]).' '.$words[$state], array_keys(array_intersect_key($words, $this->landed)));

        return $told === [] ? 'Nothing was sent.' : implode(', ', $told).'.';
    }

    private static function left(Departures $queue): string
    {
        $said = [];
        foreach ([[$queue->unfit, ' does not fit', ' do not fit'], [$queue->forbidden, ' is not allowed to you', ' are not allowed to you']] as [$left, $one, $many]) {
            $left === 0 || $said[] = Phrase::count($left, 'change').($left === 1 ? $one.', and was not sent.' : $many.', and were not sent.');
        }

        return implode(' ', $said);
    }

    private function wait(SourceConnection $connection, bool $isUnderWay): void
    {
        if ($isUnderWay) {
            $connection->tick();

            return;
        }
        $next = $this->flights === [] ? Ticks::now() + self::HUNGRY : min(array_map(static fn (Flight $flight): float => $flight->at, $this->flights));
        usleep((int) (1e6 * max(0.0, min(0.1, $next - Ticks::now()))));
    }

    /**
     * A sign of life, and a look at whether somebody wants it to stop.
     *
     * @throws CannotChange when another process does it
     */
    private function beat(ChangeSet $set): void
    {
        if (Ticks::now() - $this->beaten < self::BEAT) {
            return;
        }
        $this->beaten = Ticks::now();
        DB::table('change_sets')->where(['id' => $set->id, 'attempt' => $set->attempt])->update(['heartbeat_at' => now()->format('Y-m-d H:i:s.u'), 'waits_for' => $this->waits]);
        $row = DB::table('change_sets')->where('id', $set->id)->first(['attempt', 'stop_how']);
        if ($row === null || (int) $row->attempt !== $set->attempt) {
            throw CannotChange::because('Another process goes on with it.');
        }
        if ($row->stop_how !== null) {
            $this->stops ??= 'Stopped by hand. What was on its way was waited for.';
        }
    }

    private function end(ChangeSet $set, string $ended): void
    {
        $left = $set->changes()->whereIn('state', [ChangeState::Pending, ChangeState::Unknown, ChangeState::Conflict])->count();
        $state = $set->open !== null ? ChangeSetState::Open : ($left === 0 ? ChangeSetState::Done : ChangeSetState::Stopped);
        $isOurs = DB::table('change_sets')->where(['id' => $set->id, 'attempt' => $set->attempt])->update(['state' => $state->value, 'ended' => mb_substr($ended, 0, 1000), 'ended_at' => now()->format('Y-m-d H:i:s.u'), 'first' => null, 'stop_how' => null, 'waits_for' => null, 'approved_by' => $set->open !== null ? null : $set->approved_by, 'approved_at' => $set->open !== null ? null : $set->approved_at]);
        // Nothing is under way any more; what could not even be looked at is not known.
        $isOurs === 0 || Change::query()->where(['change_set_id' => $set->id, 'state' => ChangeState::Sending])->toBase()->update(['state' => ChangeState::Unknown->value]);
    }
}
