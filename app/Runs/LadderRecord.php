<?php

declare(strict_types=1);

namespace App\Runs;

/**
 * The pages of a run in time, in at most so many rungs: when there are more, the early ones are
 * put together two by two.
 *
 * @phpstan-type Rung array{start: int, ms: int, records: int|null, waited: int, page?: int, to?: int, tries?: int}
 */
final class LadderRecord
{
    private const MOST = 160;

    /** Rungs at the end that stay as they are. */
    private const LATE = 24;

    /**
     * @param  list<Rung>  $rungs
     */
    public function __construct(private array $rungs = [])
    {
    }

    /**
     * @param  int  $start  milliseconds since the run began
     * @param  int|null  $records  null when it failed
     * @param  int  $waited  milliseconds before it, for the pace or between tries
     */
    public function add(int $page, int $start, int $ms, ?int $records, int $waited, int $tries): void
    {
        $this->rungs[] = ['start' => $start, 'ms' => $ms, 'records' => $records, 'waited' => $waited, 'page' => $page, 'to' => $page, 'tries' => $tries];
        if (count($this->rungs) <= self::MOST) {
            return;
        }
        $early = array_slice($this->rungs, 0, count($this->rungs) - self::LATE);
        $merged = [];
        foreach (array_chunk($early, 2) as $pair) {
            $merged[] = isset($pair[1]) ? self::both($pair[0], $pair[1]) : $pair[0];
        }
        $this->rungs = [...$merged, ...array_slice($this->rungs, -self::LATE)];
    }

    /**
     * @return list<Rung>
     */
    public function rungs(): array
    {
        return $this->rungs;
    }

    /**
     * @param  Rung  $a
     * @param  Rung  $b
     * @return Rung
     */
    private static function both(array $a, array $b): array
    {
        $start = min($a['start'], $b['start']);

        return [
            'start' => $start, 'ms' => max($a['start'] + $a['ms'], $b['start'] + $b['ms']) - $start,
            'records' => $a['records'] === null && $b['records'] === null ? null : ($a['records'] ?? 0) + ($b['records'] ?? 0), 'waited' => $a['waited'] + $b['waited'],
            'page' => $a['page'] ?? 1, 'to' => $b['to'] ?? 1, 'tries' => max($a['tries'] ?? 1, $b['tries'] ?? 1),
        ];
    }
}
