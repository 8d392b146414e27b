<?php

declare(strict_types=1);

namespace App\View;

use App\Models\CheckOutcome;
use App\Models\CheckResult;
use App\Models\KeptTable;

/**
 * A check of a table over time.
 */
final readonly class CheckHistory
{
    /** Runs that are looked back to. */
    private const RUNS = 30;

    /** Points from one beat to the next. */
    private const STEP = 7;

    /**
     * @param  list<CheckResult>  $beats  the oldest first
     */
    private function __construct(public CheckResult $last, private array $beats)
    {
    }

    /**
     * Those that the last run looked at, what is broken first.
     *
     * @return list<self>
     */
    public static function of(KeptTable $table): array
    {
        $where = ['endpoint_id' => $table->endpoint_id, 'environment_id' => $table->environment_id, 'table' => $table->given_name];
        $runs = CheckResult::query()->where($where)->select('run_id')->distinct()->orderByDesc('run_id')->limit(self::RUNS)->pluck('run_id');
        if ($runs->isEmpty()) {
            return [];
        }
        $results = CheckResult::query()->where($where)->whereIn('run_id', $runs)->orderBy('id')->get(['id', 'run_id', 'mark', 'words', 'acts', 'outcome', 'sentence', 'at', 'broken', 'rows'])->groupBy('mark');
        $histories = [];
        foreach ($results as $beats) {
            $last = $beats->last();
            if ($last !== null && $last->run_id === $runs->first()) {
                $histories[] = new self($last, array_values($beats->all()));
            }
        }
        usort($histories, static fn (self $one, self $other): int => [$one->last->outcome === CheckOutcome::Held, $one->last->id] <=> [$other->last->outcome === CheckOutcome::Held, $other->last->id]);

        return $histories;
    }

    /**
     * Some of the rows concerned.
     *
     * @return list<array<string, string|null>>
     */
    public function concerned(): array
    {
        return CheckResult::query()->find($this->last->id)->concerned ?? [];
    }

    public function width(): int
    {
        return self::STEP * count($this->beats);
    }

    /**
     * @return list<array{x: int, outcome: string, title: string}>
     */
    public function beats(): array
    {
        return array_map(static fn (CheckResult $one, int $place): array => ['x' => $place * self::STEP, 'outcome' => $one->outcome->value, 'title' => $one->at->format('Y-m-d H:i').' UTC: '.$one->sentence], $this->beats, array_keys($this->beats));
    }

    /**
     * "held 28 of 30 times"
     */
    public function words(): string
    {
        $held = count(array_filter($this->beats, static fn (CheckResult $one): bool => $one->outcome === CheckOutcome::Held));

        return count($this->beats) === 1 ? 'looked at once' : 'held '.Show::number($held).' of the last '.Show::count(count($this->beats), 'time');
    }
}
