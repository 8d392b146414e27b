<?php

declare(strict_types=1);

namespace DeepSpring\Schedule;

/**
 * What becomes of refreshes that are due, with so many workers: which wait, and which are left out since the one
 * before is still under way. It reckons with the time that each usually takes, and with nothing else being read.
 */
final readonly class DayPlan
{
    /**
     * @param  list<PlannedRun>  $runs  by the moment at which they are due
     */
    private function __construct(public array $runs)
    {
    }

    /**
     * @param  list<PlannedRefresh>  $refreshes
     */
    public static function of(array $refreshes, int $workers): self
    {
        usort($refreshes, static fn (PlannedRefresh $one, PlannedRefresh $other): int => $one->at <=> $other->at);
        $free = new \SplMinHeap;
        for ($left = max(1, $workers); $left > 0; $left--) {
            $free->insert(0.0);
        }
        $ends = [];
        $runs = [];
        foreach ($refreshes as $refresh) {
            if (($ends[$refresh->name] ?? 0.0) > $refresh->at) {
                $runs[] = new PlannedRun($refresh, null, null);

                continue;
            }
            $begins = max((float) $refresh->at, $free->extract());
            $ends[$refresh->name] = $begins + $refresh->seconds;
            $free->insert($ends[$refresh->name]);
            $runs[] = new PlannedRun($refresh, $begins, $ends[$refresh->name]);
        }

        return new self($runs);
    }

    /**
     * Moments at which something waits for so long, or is left out.
     *
     * @return list<Crowd> in the order of time
     */
    public function crowds(float $seconds): array
    {
        $byMoment = [];
        foreach ($this->runs as $run) {
            $byMoment[$run->refresh->at][] = $run;
        }
        $crowds = [];
        foreach ($byMoment as $at => $runs) {
            $wait = max(array_map(static fn (PlannedRun $run): float => $run->waits(), $runs));
            $leftOut = array_values(array_map(static fn (PlannedRun $run): string => $run->refresh->name, array_filter($runs, static fn (PlannedRun $run): bool => $run->begins === null)));
            if ($wait >= $seconds || $leftOut !== []) {
                $crowds[] = new Crowd($at, count($runs), $wait, $leftOut);
            }
        }

        return $crowds;
    }
}
