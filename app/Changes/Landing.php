<?php

declare(strict_types=1);

namespace App\Changes;

use App\Evidence\EvidenceWriter;
use App\Models\Change;
use App\Models\ChangeSet;
use App\Pace\Ticks;
use App\Pipeline\SourceConnection;
use App\Reservoir\KeepFailed;
use App\Secrets\Vault;
use App\Transport\Transport;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use DeepSpring\Flatten\Mask\Concealing;
use DeepSpring\Flatten\Plan;
use Illuminate\Support\Facades\DB;
use Psr\Http\Message\RequestInterface;

/**
 * What came of changes, written down: the change and its entry in the journal in one transaction, then the kept rows.
 * In that order, so that a refresh that puts older rows in place finds the change and puts it in again.
 */
final class Landing
{
    /** Changes that are written down together at most, and seconds that the first of them waits. */
    private const TOGETHER = 50;

    private const WAITS = 0.2;

    /** @var list<Flight> that nobody has written down yet */
    private array $landed = [];

    /** @var list<Flight> whose kept rows do not follow yet */
    private array $written = [];

    private float $since = 0.0;

    private ChangeSet $set;

    private ChangeTable $table;

    private KeptRows $rows;

    private SourceConnection $connection;

    public function __construct(private readonly Vault $vault)
    {
    }

    public function open(ChangeSet $set, ChangeTable $table, KeptRows $rows, SourceConnection $connection): void
    {
        [$this->set, $this->table, $this->rows, $this->connection] = [$set, $table, $rows, $connection];
        [$this->landed, $this->written, $this->since] = [[], [], Ticks::now()];
    }

    /**
     * A request as it may be shown.
     */
    public function described(RequestInterface $request): string
    {
        $mask = $this->connection->mask();
        $body = (string) $request->getBody();

        return EvidenceWriter::head(Transport::completed($request), $mask).($body === '' ? '' : "\n".EvidenceWriter::readable($mask->apply($body)));
    }

    /**
     * Of a request that several changes share, what is about each, as it may be shown.
     *
     * @return list<string>
     */
    public function describedParts(BundledRequest $made): array
    {
        $mask = $this->connection->mask();
        $head = EvidenceWriter::head(Transport::completed($made->request), $mask);
        $many = count($made->parts);

        return array_map(static fn (string $part, int $place): string => "$head\n(".($place + 1)." of $many in this request:)\n".EvidenceWriter::readable($mask->apply($part)), $made->parts, array_keys($made->parts));
    }

    /**
     * What can be settled by itself may wait for others for a moment, since writing down is what takes longest.
     *
     * @param  list<Flight>  $flights
     */
    public function land(array $flights): void
    {
        array_push($this->landed, ...$flights);
        if ($this->isUrgent($flights)) {
            $this->write();
        }
    }

    /**
     * Whether these are written down at once.
     *
     * @param  list<Flight>  $flights
     */
    public function isUrgent(array $flights): bool
    {
        foreach ($flights as $flight) {
            if (! $this->table->canSettle($flight->change->kind, $flight->change->action) || $flight->travelled && ! $this->table->canLookUp($flight->change->kind)) {
                return true;
            }
        }

        return false;
    }

    /**
     * Writes down what has waited long enough, and has the kept rows follow.
     */
    public function catchUp(): void
    {
        $this->since = $this->landed === [] && $this->written === [] ? Ticks::now() : $this->since;
        if (count($this->landed) + count($this->written) >= self::TOGETHER || Ticks::now() - $this->since > self::WAITS) {
            $this->flush();
        }
    }

    public function flush(): void
    {
        $this->landed === [] || $this->write();
        [$written, $this->written] = [$this->written, []];
        $this->since = Ticks::now();
        if ($written === []) {
            return;
        }
        try {
            $this->follow($written);
        } catch (KeepFailed $failed) {
            Change::query()->whereIn('id', array_map(static fn (Flight $flight): int => $flight->change->id, $written))->where('state', ChangeState::Done)->whereNull('reason')->update(['reason' => mb_substr("{$failed->getMessage()} The next refresh brings it.", 0, 1000)]);
        }
    }

    private function write(): void
    {
        [$flights, $this->landed] = [$this->landed, []];
        DB::transaction(function () use ($flights): void {
            $entries = $outcomes = [];
            foreach ($flights as $flight) {
                $outcomes[] = $this->outcome($flight);
                if ($flight->writes > 0 || $flight->outcome === ChangeState::Unknown || $flight->hasEffect) {
                    $entries[] = Journal::row($this->set, $flight->change, $this->table, $flight->outcome ?? ChangeState::Unknown, (string) $flight->request, $this->answer($flight), $flight->reason);
                }
            }
            self::settle($outcomes);
            Journal::add($entries);
        }, 5);
        array_push($this->written, ...$flights);
    }

    /**
     * @return array<string, mixed> columns of the change, with its id
     */
    private function outcome(Flight $flight): array
    {
        $change = $flight->change;
        $now = now()->format('Y-m-d H:i:s.u');
        $isDone = $flight->outcome === ChangeState::Done;
        $change->status = $flight->written->status ?? $change->status;
        $change->milliseconds = $flight->written === null ? $change->milliseconds : (int) round($flight->written->timing->total);
        if ($isDone && $change->kind === RecordAct::Create && $flight->seen !== null) {
            $change->key = $this->table->key($flight->seen->row);
        }

        return [
            'id' => $change->id, 'state' => $flight->outcome->value ?? ChangeState::Unknown->value, 'reason' => $flight->reason === '' ? null : mb_substr($flight->reason, 0, 1000), 'faults' => json_encode((object) $flight->faults, JSON_UNESCAPED_UNICODE | JSON_INVALID_UTF8_SUBSTITUTE),
            'theirs' => $flight->theirs === null ? null : json_encode($flight->theirs, JSON_UNESCAPED_UNICODE), 'status' => $change->status, 'milliseconds' => $change->milliseconds, 'tries' => $change->tries + $flight->writes,
            'done_at' => $isDone ? $now : null, 'record' => $isDone && $flight->seen !== null ? base64_encode((string) gzdeflate($flight->seen->body, 1)) : null,
            'key' => $change->key === null ? null : json_encode($change->key, JSON_UNESCAPED_UNICODE), 'key_hash' => $change->key === null ? null : Change::hash($change->key),
        ];
    }

    /**
     * Written with one statement: what is sent to the database one by one takes longer than all of it together.
     *
     * @param  list<array<string, mixed>>  $outcomes
     */
    private static function settle(array $outcomes): void
    {
        $columns = array_keys($outcomes[0] ?? []);
        $row = 'SELECT '.implode(', ', array_map(static fn (string $name): string => $name === 'record' ? 'from_base64(?) AS `record`' : "? AS `$name`", $columns));
        $sets = implode(', ', array_map(static fn (string $name): string => "c.`$name` = v.`$name`", array_diff($columns, ['id'])));
        $outcomes === [] || DB::update('UPDATE changes c JOIN ('.implode(' UNION ALL ', array_fill(0, count($outcomes), $row)).") v ON v.id = c.id SET $sets", array_merge(...array_map(array_values(...), $outcomes)));
    }

    private function answer(Flight $flight): string
    {
        $sent = $flight->written;
        if ($sent === null) {
            return '';
        }
        if ($sent->status === null) {
            return $this->connection->mask()->apply($sent->detail);
        }
        $clean = $this->connection->clean($sent);
        $plan = new Plan($this->table->plan->table);
        $body = $plan->isMasked() ? (new Concealing($plan, $flight->asked->bound->endpoint->answer(), $this->vault->masks()))->body($clean->body, $clean->contentType(), $sent->status >= 400) : $clean->body;

        return "$sent->status $sent->reason".($body === null ? ' (not kept: what is masked could not be taken out)' : ($body === '' ? '' : "\n\n$body"));
    }

    /**
     * @param  list<Flight>  $flights
     *
     * @throws KeepFailed
     */
    private function follow(array $flights): void
    {
        $seen = $gone = [];
        foreach ($flights as $flight) {
            if ($flight->outcome !== ChangeState::Done) {
                continue;
            }
            if ($flight->change->kind === RecordAct::Delete) {
                $flight->change->key === null || $gone[] = $flight->change->key;
            } elseif ($flight->seen !== null) {
                $seen[] = $flight->seen;
            } elseif ($flight->change->kind === RecordAct::Update && $flight->change->key !== null) {
                $this->rows->set($flight->change->key, $flight->change->after);
            }
        }
        $this->rows->put($seen);
        $this->rows->remove($gone);
        foreach ($flights as $flight) {
            $flight->puts === [] || $flight->outcome !== ChangeState::Done || $flight->change->key === null || $this->rows->set($flight->change->key, $flight->puts);
        }
    }
}
