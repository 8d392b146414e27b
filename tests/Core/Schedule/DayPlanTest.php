<?php

declare(strict_types=1);

namespace Tests\Core\Schedule;

use DeepSpring\Schedule\Crowd;
use DeepSpring\Schedule\DayPlan;
use DeepSpring\Schedule\PlannedRefresh;
use DeepSpring\Schedule\PlannedRun;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class DayPlanTest extends TestCase
{
    /**
     * @return iterable<string, array{list<array{string, int, float}>, int, list<array{string, float|null, float|null}>, list<array{int, int, float, list<string>}>}>
     */
    public static function days(): iterable
    {
        yield 'nothing' => [[], 2, [], []];
        yield 'one after the other' => [[['a', 0, 10.0], ['b', 60, 10.0]], 1, [['a', 0.0, 10.0], ['b', 60.0, 70.0]], []];
        yield 'as many as there are workers' => [[['a', 0, 90.0], ['b', 0, 90.0]], 2, [['a', 0.0, 90.0], ['b', 0.0, 90.0]], []];
        yield 'one more' => [[['a', 0, 90.0], ['b', 0, 40.0], ['c', 0, 5.0]], 2, [['a', 0.0, 90.0], ['b', 0.0, 40.0], ['c', 40.0, 45.0]], [[0, 3, 40.0, []]]];
        yield 'one that is still under way is left out' => [[['a', 0, 90.0], ['a', 60, 90.0], ['a', 120, 90.0]], 2, [['a', 0.0, 90.0], ['a', null, null], ['a', 120.0, 210.0]], [[60, 1, 0.0, ['a']]]];
        yield 'one that waits is left out as well' => [[['b', 0, 100.0], ['a', 0, 10.0], ['a', 60, 10.0]], 1, [['b', 0.0, 100.0], ['a', 100.0, 110.0], ['a', null, null]], [[0, 2, 100.0, []], [60, 1, 0.0, ['a']]]];
        yield 'in any order' => [[['b', 60, 1.0], ['a', 0, 1.0]], 1, [['a', 0.0, 1.0], ['b', 60.0, 61.0]], []];
        yield 'a wait of less than is asked for' => [[['a', 0, 9.0], ['b', 0, 9.0]], 1, [['a', 0.0, 9.0], ['b', 9.0, 18.0]], []];
    }

    /**
     * @param  list<array{string, int, float}>  $due
     * @param  list<array{string, float|null, float|null}>  $runs
     * @param  list<array{int, int, float, list<string>}>  $crowds
     */
    #[DataProvider('days')]
    public function test_what_becomes_of_a_day(array $due, int $workers, array $runs, array $crowds): void
    {
        $plan = DayPlan::of(array_map(static fn (array $one): PlannedRefresh => new PlannedRefresh($one[0], 's', $one[1], $one[2]), $due), $workers);

        self::assertSame($runs, array_map(static fn (PlannedRun $run): array => [$run->refresh->name, $run->begins, $run->ends], $plan->runs));
        self::assertSame($crowds, array_map(static fn (Crowd $crowd): array => [$crowd->at, $crowd->due, $crowd->longestWait, $crowd->leftOut], $plan->crowds(30.0)));
    }
}
