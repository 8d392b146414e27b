<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Models\ChangeSet;
use DeepSpring\Change\ChangeState;

/**
 * What of a set is sent next, in its order: what is unknown is settled first, then what is pending. What does not fit,
 * or what the person may not do any more, stays where it is.
 */
final class Departures
{
    private int $after = 0;

    private bool $isUnknown = true;

    private bool $isEmpty = false;

    private readonly ChangeRights $rights;

    public function __construct(private readonly ChangeSet $set, private readonly ChangeTable $table)
    {
        $this->rights = ChangeRights::of($set->user, $set->endpoint, $set->environment);
    }

    /**
     * @return list<array{Flight, bool}> at most so many, marked as on their way; with whether they were sent before
     */
    public function next(int $most): array
    {
        $found = [];
        while (! $this->isEmpty && count($found) < $most) {
            $some = Change::query()->where(['change_set_id' => $this->set->id, 'state' => $this->isUnknown ? ChangeState::Unknown : ChangeState::Pending])->where('number', '>', $this->after)->orderBy('number')->limit($most - count($found))->get();
            if ($some->isEmpty()) {
                $this->isEmpty = ! $this->isUnknown;
                [$this->isUnknown, $this->after] = [false, 0];

                continue;
            }
            foreach ($some as $change) {
                $this->after = $change->number;
                $flight = $this->flight($change);
                $flight === null || $found[] = [$flight, $this->isUnknown];
            }
        }
        $ids = array_map(static fn (array $one): int => $one[0]->change->id, $found);
        $ids === [] || Change::query()->whereIn('id', $ids)->toBase()->update(['state' => ChangeState::Sending->value, 'sent_at' => now()->format('Y-m-d H:i:s.u')]);

        return $found;
    }

    private function flight(Change $change): ?Flight
    {
        $bound = $this->table->plan->endpoint($change->kind, $change->action);
        if ($bound === null || $change->faults !== []) {
            return null;
        }
        $asked = $this->table->plan->asked($change->wanted());
        $against = $this->rights->against($change->wanted(), $bound->endpoint->slug);
        if ($asked->faults !== [] || $against !== []) {
            $against === [] || $this->isUnknown || Change::query()->whereKey($change->id)->toBase()->update(['reason' => mb_substr(implode(' ', $against), 0, 1000)]);

            return null;
        }

        return new Flight($change, $asked, Courier::isRepeatable($bound));
    }
}
