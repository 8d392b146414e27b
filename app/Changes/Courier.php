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
use DeepSpring\Ask\PageRequest;
use DeepSpring\Change\BoundEndpoint;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use DeepSpring\Value\Phrase;
use Illuminate\Support\Facades\DB;
use Psr\Http\Message\RequestInterface;

/**
 * Sends the changes of a set: several at once as far as the pace allows, each as a `Flight`. What is on its way is
 * marked before it leaves, so that after a death everybody knows what may have been sent.
 */
final class Courier
{
    /** Seconds between two signs of life. */
    private const BEAT = 1.0;

    /** Statuses by which a service refuses whoever asks, and not this change. */
    private const WHO = [401, 403, 407];

    /** @var array<int, Flight> by change */
    private array $flights = [];

    private float $beaten = 0.0;

    private int $sentNow = 0;

    /** @var array<string, int> what came of those that were on their way, by state */
    private array $landed = [];

    private ?string $stops = null;

    public function __construct(private readonly SourceConnections $connections, private readonly Vault $vault, private readonly RateLimitStore $rates, private readonly RowPatches $patches, private readonly Landing $landing)
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
            // What an earlier process was sending when it died, nobody knows.
            Change::query()->where(['change_set_id' => $set->id, 'state' => ChangeState::Sending])->update(['state' => ChangeState::Unknown]);
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
        $limits = new Limits($definition->pace->timeout, 1, (int) config('spring.limits.answer_bytes'));
        $pacer = new Pacer($this->rates, $set->endpoint->source_id, $set->environment_id, $definition->pace, true);
        $rules = new FlightRules($table, $connection, new RecordReader($table, $this->vault), $definition->pace->tries);
        $this->landing->open($set, $table, new KeptRows($table, $this->patches), $connection);
        $queue = new Departures($set, $table);
        try {
            for (; ;) {
                $this->beat($set);
                $landed = $this->collect($connection, $pacer, $rules);
                $room = $this->stops === null ? $pacer->atOnce($definition->pace->atOnce, count($this->flights)) - count($this->flights) : 0;
                $room = $set->first === null ? $room : min($room, $set->first - $this->sentNow - count($this->flights));
                $this->stops === null || $this->callBack();
                // What landed and what leaves next are written down together.
                foreach ($landed === [] && $room <= 0 ? [] : DB::transaction(function () use ($landed, $room, $queue): array {
                    $this->landing->land($landed);

                    return $room > 0 ? $queue->next($room) : [];
                }) as [$flight, $isUnknown]) {
                    $this->flights[$flight->change->id] = $flight;
                    $flight->wasSent = $isUnknown;
                    $rules->begin($flight, $isUnknown);
                }
                $this->landing->catchUp();
                if ($this->flights === []) {
                    $this->landing->flush();

                    return trim($this->told().' '.($this->stops ?? ($set->first !== null && $this->sentNow >= $set->first ? 'Stopped after the first '.Phrase::number($set->first).', as it was asked to.' : $this->left($set))));
                }
                $this->launch($connection, $pacer, $limits, $table);
                $connection->advance();
                $this->wait($connection);
            }
        } finally {
            $this->landing->flush();
            $queue->release();
            foreach ($this->flights as $flight) {
                $flight->transfer?->cancel();
            }
            $pacer->release();
        }
    }

    /**
     * What has not left yet, or waits to be looked at again, stays pending once somebody stops it.
     */
    private function callBack(): void
    {
        foreach ($this->flights as $flight) {
            if ($flight->transfer === null && $flight->outcome === null && $flight->writes === 0 && ! $flight->wasSent && in_array($flight->step, [FlightStep::Look, FlightStep::Write], true)) {
                $flight->ends(ChangeState::Pending);
            }
        }
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

    private function left(ChangeSet $set): string
    {
        $left = $set->changes()->where('state', ChangeState::Pending)->count();

        return $left === 0 ? '' : Phrase::count($left, 'change').($left === 1 ? ' does' : ' do').' not fit, and '.($left === 1 ? 'was' : 'were').' not sent.';
    }

    private function launch(SourceConnection $connection, Pacer $pacer, Limits $limits, ChangeTable $table): void
    {
        $now = Ticks::now();
        foreach ($this->flights as $flight) {
            if ($flight->transfer !== null || $flight->outcome !== null || $flight->at > $now) {
                continue;
            }
            [$seconds] = $pacer->reserve();
            if ($seconds > 0.002 && $flight->at === 0.0) {
                $flight->at = Ticks::now() + $seconds;

                continue;
            }
            try {
                $request = $this->request($connection, $flight, $table);
                if ($flight->step === FlightStep::Write) {
                    $flight->request = $this->landing->described($request);
                }
                $flight->generation = $connection->generation;
                $flight->transfer = $connection->begin($request, $limits);
            } catch (ReadingFailed $failed) {
                // Nothing left: no token, no secret, or an input that does not fit after all.
                $flight->ends(ChangeState::Pending, $failed->diagnosis->what);
                $this->stops ??= in_array($failed->diagnosis->code, ['input'], true) ? null : $failed->diagnosis->what;
            }
        }
    }

    private function request(SourceConnection $connection, Flight $flight, ChangeTable $table): RequestInterface
    {
        if ($flight->step === FlightStep::Write) {
            $headers = $flight->etag === null || $flight->change->kind->value === 'create' ? [] : ['if-match' => $flight->etag];

            return $connection->request($flight->asked->bound->endpoint, $flight->asked->values, new PageRequest(headers: $headers));
        }
        $get = $table->plan->get() ?? throw new \LogicException('Nothing gets a record.');

        return $connection->request($get->endpoint, $table->plan->getting(($flight->change->key ?? []) + $flight->change->before) ?? [], new PageRequest);
    }

    /**
     * @return list<Flight> whose end is known now
     *
     * @throws ReadingFailed
     */
    private function collect(SourceConnection $connection, Pacer $pacer, FlightRules $rules): array
    {
        $landed = [];
        foreach ($this->flights as $id => $flight) {
            if ($flight->transfer?->isComplete() === true) {
                $sent = $flight->transfer->sent();
                $flight->transfer = null;
                $pacer->answered($sent);
                if (! $flight->isRenewed && $connection->renewAfter($sent, $flight->generation)) {
                    $flight->isRenewed = true;

                    continue;
                }
                $rules->answered($flight, $sent);
                $this->looksAtWho($sent, $connection);
            }
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

    private function looksAtWho(Sent $sent, SourceConnection $connection): void
    {
        if (in_array($sent->status, self::WHO, true)) {
            $this->stops ??= "Stopped, since the service refuses whoever asks ($sent->status $sent->reason).";
        }
    }

    private function wait(SourceConnection $connection): void
    {
        $isUnderWay = array_filter($this->flights, static fn (Flight $flight): bool => $flight->transfer !== null) !== [];
        if ($isUnderWay) {
            $connection->tick();

            return;
        }
        $next = $this->flights === [] ? Ticks::now() : min(array_map(static fn (Flight $flight): float => $flight->at, $this->flights));
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
        DB::table('change_sets')->where(['id' => $set->id, 'attempt' => $set->attempt])->update(['heartbeat_at' => now()->format('Y-m-d H:i:s.u')]);
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
        DB::table('change_sets')->where(['id' => $set->id, 'attempt' => $set->attempt])->update(['state' => $state->value, 'ended' => mb_substr($ended, 0, 1000), 'ended_at' => now()->format('Y-m-d H:i:s.u'), 'first' => null, 'stop_how' => null, 'approved_by' => $set->open !== null ? null : $set->approved_by, 'approved_at' => $set->open !== null ? null : $set->approved_at]);
    }

    /**
     * Whether a change that may have been sent can be settled without a person: by its mark, or by a look.
     */
    public static function canSettle(ChangeTable $table, RecordAct $act, int $action): bool
    {
        return $table->plan->endpoint($act, $action)?->mark() !== null || $table->plan->get() !== null && in_array($act, [RecordAct::Update, RecordAct::Delete], true);
    }

    /**
     * Whether a change may be sent again as it is.
     */
    public static function isRepeatable(BoundEndpoint $bound): bool
    {
        return $bound->mark() !== null;
    }
}
