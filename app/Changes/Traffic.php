<?php

declare(strict_types=1);

namespace App\Changes;

use App\Models\Change;
use App\Pace\Pacer;
use App\Pace\Ticks;
use App\Pipeline\ReadingFailed;
use App\Pipeline\SourceConnection;
use App\Transport\Limits;
use App\Transport\Sent;
use DeepSpring\Change\ChangeState;

/**
 * Requests on their way: changes that travel alone, and those that travel together.
 */
final class Traffic
{
    /** Statuses by which a service refuses whoever asks, and not this change. */
    private const WHO = [401, 403, 407];

    /** Seconds that changes wait for others to travel with. */
    private const WAITS = 2.0;

    /** @var list<Bundle> */
    private array $bundles = [];

    /** Why nothing more can be sent; null as long as it can. */
    public ?string $stops = null;

    public function __construct(private readonly ChangeTable $table, private readonly SourceConnection $connection, private readonly Pacer $pacer, private readonly FlightRules $rules, private readonly Landing $landing, private readonly Limits $limits, private readonly ?Bundling $bundling)
    {
    }

    public function bundles(): bool
    {
        return $this->bundling !== null;
    }

    /**
     * Changes that may be under way where so many requests may.
     */
    public function room(int $requests): int
    {
        return $requests * ($this->bundling?->most() ?? 1);
    }

    /**
     * @param  array<int, Flight>  $flights  all that are under way
     * @param  int  $requests  that may be under way at once
     * @return int requests that left
     */
    public function launch(array $flights, int $requests): int
    {
        $now = Ticks::now();
        $free = $all = $requests - $this->underWay($flights);
        $waiting = array_filter($flights, static fn (Flight $one): bool => $one->transfer === null && ! $one->isBundled && $one->outcome === null);
        $groups = [];
        foreach ($waiting as $flight) {
            if ($flight->at > $now) {
                continue;
            }
            $group = $this->bundling?->group($flight);
            if ($group !== null) {
                $groups[$group][] = $flight;
            } elseif ($free > 0 && $this->mayGo($flight)) {
                $free--;
                $this->alone($flight);
            }
        }
        $mayJoin = array_filter($flights, static fn (Flight $one): bool => $one->step !== FlightStep::Write);
        foreach ($groups as $group => $some) {
            // Fewer than fit wait for those that are still looked at, but not for long.
            $isLast = $mayJoin === [] || $some[0]->step !== FlightStep::Write || min(array_map(static fn (Flight $one): float => $one->ready ??= $now, $some)) < $now - self::WAITS;
            $most = $this->bundling?->most($group) ?? 1;
            foreach (array_chunk($some, $most) as $chunk) {
                if ($free > 0 && ($isLast || count($chunk) === $most) && $this->mayGo($chunk[0])) {
                    $free--;
                    // Alone it goes to the endpoint for one record, with its ETag.
                    count($chunk) === 1 ? $this->alone($chunk[0]) : $this->together($chunk);
                }
            }
        }

        return $all - $free;
    }

    /**
     * Whether the pace lets it go now; its turn comes otherwise.
     */
    private function mayGo(Flight $flight): bool
    {
        [$seconds] = $this->pacer->reserve();
        if ($seconds > 0.002 && $flight->at === 0.0) {
            $flight->at = Ticks::now() + $seconds;

            return false;
        }

        return true;
    }

    private function alone(Flight $flight): void
    {
        try {
            $request = $flight->request($this->connection, $this->table);
            if ($flight->step === FlightStep::Write) {
                $flight->request = $this->landing->described($request);
            }
            $this->leaves([$flight], 'alone');
            $flight->generation = $this->connection->generation;
            $flight->transfer = $this->connection->begin($request, $this->limits);
        } catch (ReadingFailed $failed) {
            $this->fails([$flight], $failed);
        }
    }

    /**
     * @param  non-empty-list<Flight>  $flights
     */
    private function together(array $flights): void
    {
        try {
            $made = $this->bundling?->request($flights) ?? throw new \LogicException('They travel alone.');
            $texts = $this->landing->describedParts($made);
            foreach ($flights as $place => $flight) {
                $flight->isBundled = true;
                $flight->ready = null;
                $flight->step === FlightStep::Write && $flight->request = $texts[$place];
            }
            $this->leaves($flights, 'together');
            $this->bundles[] = $bundle = new Bundle($flights);
            $bundle->generation = $this->connection->generation;
            $bundle->transfer = $this->connection->begin($made->request, $this->limits);
        } catch (ReadingFailed $failed) {
            $this->fails($flights, $failed);
        }
    }

    /**
     * Where changes travel together, more are marked than leave at once. What cannot be looked up later is marked again
     * when it leaves, with how it does.
     *
     * @param  non-empty-list<Flight>  $flights
     */
    private function leaves(array $flights, string $how): void
    {
        if ($this->bundling === null || $flights[0]->step !== FlightStep::Write) {
            return;
        }
        $ids = [];
        foreach ($flights as $flight) {
            $flight->travelled = $flight->travelled || $how === 'together';
            $this->table->canLookUp($flight->change->kind) || $ids[] = $flight->change->id;
        }
        $ids === [] || Change::query()->whereIn('id', $ids)->toBase()->update(['travels' => $how]);
    }

    /**
     * Nothing left: no token, no secret, or an input that does not fit after all.
     *
     * @param  list<Flight>  $flights
     */
    private function fails(array $flights, ReadingFailed $failed): void
    {
        foreach ($flights as $flight) {
            $flight->ends(ChangeState::Pending, $failed->diagnosis->what);
        }
        $this->stops ??= $failed->diagnosis->code === 'input' ? null : $failed->diagnosis->what;
    }

    /**
     * Takes in what was answered: one at a time, so that the next leaves before another is looked at and all are not
     * waited for together; or all of it, where each has to be written down at once, and several together cost as much
     * as one.
     *
     * @param  array<int, Flight>  $flights
     *
     * @throws ReadingFailed
     */
    public function collect(array $flights, bool $isOneByOne): void
    {
        foreach ($flights as $flight) {
            if ($flight->transfer?->isComplete() !== true) {
                continue;
            }
            $sent = $flight->transfer->sent();
            $flight->transfer = null;
            $this->pacer->answered($sent);
            if (! $flight->isRenewed && $this->connection->renewAfter($sent, $flight->generation)) {
                $flight->isRenewed = true;

                continue;
            }
            $this->rules->answered($flight, $sent);
            $this->looksAtWho($sent);
            if ($isOneByOne) {
                break;
            }
        }
        foreach ($this->bundles as $number => $bundle) {
            if ($bundle->transfer?->isComplete() === true) {
                $this->unpack($bundle, $bundle->transfer->sent());
                unset($this->bundles[$number]);
            }
        }
        $this->bundles = array_values($this->bundles);
    }

    /**
     * @throws ReadingFailed
     */
    private function unpack(Bundle $bundle, Sent $sent): void
    {
        $this->pacer->answered($sent);
        $isRenewed = array_filter($bundle->flights, static fn (Flight $one): bool => $one->isRenewed) !== [];
        foreach ($bundle->flights as $flight) {
            $flight->isBundled = false;
        }
        if (! $isRenewed && $this->connection->renewAfter($sent, $bundle->generation)) {
            foreach ($bundle->flights as $flight) {
                $flight->isRenewed = true;
            }

            return;
        }
        foreach ($this->bundling?->answers($bundle->flights, $sent) ?? [] as $place => $answer) {
            $answer === null ? $this->rules->untouched($bundle->flights[$place]) : $this->rules->answered($bundle->flights[$place], $answer);
            $answer === null || $this->looksAtWho($answer);
        }
        $this->looksAtWho($sent);
    }

    private function looksAtWho(Sent $sent): void
    {
        if (in_array($sent->status, self::WHO, true)) {
            $this->stops ??= "Stopped, since the service refuses whoever asks ($sent->status".rtrim(" $sent->reason").').';
        }
    }

    /**
     * Requests that are under way.
     *
     * @param  array<int, Flight>  $flights
     */
    public function underWay(array $flights): int
    {
        return count($this->bundles) + count(array_filter($flights, static fn (Flight $one): bool => $one->transfer !== null));
    }

    /**
     * @param  array<int, Flight>  $flights
     */
    public function cancel(array $flights): void
    {
        foreach ([...$flights, ...$this->bundles] as $one) {
            $one->transfer?->cancel();
        }
    }
}
