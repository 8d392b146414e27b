<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\ChangeSet;
use DeepSpring\Change\ChangeState;
use DeepSpring\Change\RecordAct;
use Illuminate\Support\Collection;

/**
 * What of a set is sent next, in its order: what is unknown is settled first, then what is pending. What does not fit,
 * or what the person may not do any more, stays where it is.
 */
final class Departures
{
    /** Changes that are marked before there is room for them. */
    private const AHEAD = 32;

    /** Changes that are read at once. Nobody else touches them while their set is sent. */
    private const READ = 64;

    private int $after = 0;

    /** @var list<Change> */
    private array $read = [];

    /** @var list<array{Flight, bool}> */
    private array $ready = [];

    /** @var Collection<int, object{kind: string, action: int}> */
    private readonly Collection $kinds;

    private bool $isUnknown = true;

    private ?bool $mayWait = null;

    private bool $isEmpty = false;

    /** Pending changes that stay where they are, since they do not fit, or since the person may not make them. */
    public int $unfit = 0;

    public int $forbidden = 0;

    private readonly ChangeRights $rights;

    public function __construct(private readonly ChangeSet $set, private readonly ChangeTable $table)
    {
        $this->rights = ChangeRights::of($set->user, $set->endpoint, $set->environment);
        /** @var Collection<int, object{kind: string, action: int}> $kinds */
        $kinds = $set->changes()->toBase()->distinct()->get(['kind', 'action']);
        $this->kinds = $kinds;
    }

    /**
     * @return list<array{Flight, bool}> at most so many, marked as on their way; with whether they were sent before
     */
    public function next(int $most): array
    {
        while (count($this->ready) < $most && ! $this->isEmpty) {
            // What can be looked up if nobody comes to send it may be marked ahead of its turn.
            array_push($this->ready, ...$this->take($this->mayWait() ? max($most, self::AHEAD) : $most - count($this->ready)));
        }

        return array_splice($this->ready, 0, $most);
    }

    /**
     * Marks those that leave next while something is written down anyway. If nobody comes to send them, nobody knows
     * either whether they were sent, so they are few.
     */
    public function markAhead(int $most): void
    {
        $missing = $most - count($this->ready);
        $missing > 0 && ! $this->isEmpty && array_push($this->ready, ...$this->take($missing));
    }

    /**
     * Whether so many are marked already.
     */
    public function isReady(int $most): bool
    {
        return count($this->ready) >= $most || $this->isEmpty;
    }

    /**
     * Whether everything that can be sent has been handed out.
     */
    public function isOver(): bool
    {
        return $this->isEmpty && $this->ready === [];
    }

    /**
     * What was marked and did not leave is pending again.
     */
    public function release(): void
    {
        foreach ([false => ChangeState::Pending, true => ChangeState::Unknown] as $wasUnknown => $state) {
            $ids = array_map(static fn (array $one): int => $one[0]->change->id, array_filter($this->ready, static fn (array $one): bool => $one[1] === (bool) $wasUnknown));
            $ids === [] || Change::query()->whereIn('id', $ids)->toBase()->update(['state' => $state->value]);
        }
        $this->ready = [];
    }

    /**
     * What an earlier process was sending when it died, nobody knows; but where changes travel together, what cannot be
     * looked up was marked when it left.
     *
     * @return bool whether one died
     */
    public function recover(bool $areMarked): bool
    {
        $kinds = $areMarked ? array_filter(RecordAct::cases(), fn (RecordAct $kind): bool => ! $this->table->canLookUp($kind)) : [];
        $left = Change::query()->where(['change_set_id' => $this->set->id, 'state' => ChangeState::Sending]);
        $pending = $kinds === [] ? 0 : (clone $left)->whereIn('kind', array_map(static fn (RecordAct $kind): string => $kind->value, $kinds))->whereNull('travels')->toBase()->update(['state' => ChangeState::Pending->value]);
        $unknown = $left->toBase()->update(['state' => ChangeState::Unknown->value]);

        return $unknown + $pending > 0;
    }

    /**
     * Whether each change of the set could be settled by itself, if nobody knew whether it was sent.
     */
    public function mayWait(): bool
    {
        return $this->mayWait ??= $this->kinds->every(fn (object $one): bool => $this->table->canSettle(RecordAct::from($one->kind), (int) $one->action));
    }

    /**
     * @return list<array{Flight, bool}>
     */
    private function take(int $most): array
    {
        $found = [];
        while (! $this->isEmpty && count($found) < $most) {
            $this->read === [] && $this->read = array_values(Change::query()->where(['change_set_id' => $this->set->id, 'state' => $this->isUnknown ? ChangeState::Unknown : ChangeState::Pending])->where('number', '>', $this->after)->orderBy('number')->limit(self::READ)->get()->all());
            $change = array_shift($this->read);
            if ($change === null) {
                $this->isEmpty = ! $this->isUnknown;
                [$this->isUnknown, $this->after] = [false, 0];

                continue;
            }
            $this->after = $change->number;
            $flight = $this->flight($change);
            $flight === null || $found[] = [$flight, $this->isUnknown];
        }
        $ids = array_map(static fn (array $one): int => $one[0]->change->id, $found);
        $ids === [] || Change::query()->whereIn('id', $ids)->toBase()->update(['state' => ChangeState::Sending->value, 'travels' => null, 'sent_at' => now()->format('Y-m-d H:i:s.u')]);

        return $found;
    }

    private function flight(Change $change): ?Flight
    {
        $bound = $this->table->plan->endpoint($change->kind, $change->action);
        if ($bound === null || $change->faults !== []) {
            $this->unfit += $this->isUnknown ? 0 : 1;

            return null;
        }
        $asked = $this->table->plan->asked($change->wanted());
        $against = $this->rights->against($change->wanted(), $bound->endpoint->slug);
        if ($asked->faults !== [] || $against !== []) {
            $this->isUnknown || ($against === [] ? $this->unfit++ : $this->forbidden++);
            $against === [] || $this->isUnknown || Change::query()->whereKey($change->id)->toBase()->update(['reason' => mb_substr(implode(' ', $against), 0, 1000)]);

            return null;
        }

        return new Flight($change, $asked, $bound->isRepeatable() && $change->travels !== 'together');
    }
}
