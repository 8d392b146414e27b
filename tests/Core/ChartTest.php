<?php

declare(strict_types=1);

namespace Tests\Core;

use DeepSpring\Chart\AxisTicks;
use DeepSpring\Chart\ChartShape;
use DeepSpring\Chart\ChartShapes;
use DeepSpring\Chart\ColumnRole;
use DeepSpring\Chart\LineThinner;
use PHPUnit\Framework\Attributes\DataProvider;
use PHPUnit\Framework\TestCase;

final class ChartTest extends TestCase
{
    /**
     * @return iterable<string, array{string, list<string>}> m moment, a amount, n name → kinds with their columns
     */
    public static function shapes(): iterable
    {
        yield 'a time and an amount' => ['ma', ['line 0: 1', 'heat 0: 1', 'distribution : 1']];
        yield 'a time and several amounts' => ['maa', ['line 0: 1 2', 'multiples 0: 1 2', 'heat 0: 1', 'scatter 1: 2', 'distribution : 1']];
        yield 'a time, a name and an amount' => ['mna', ['line 0: 2 by 1', 'multiples 0: 2 by 1', 'heat 0: 2', 'bars 1: 2', 'distribution : 2']];
        yield 'a name and an amount' => ['na', ['bars 0: 1', 'distribution : 1']];
        yield 'two names and an amount' => ['nna', ['stacked 0: 2 by 1', 'bars 0: 2', 'distribution : 2']];
        yield 'a name and several amounts' => ['naa', ['bars 0: 1', 'stacked 0: 1 2', 'scatter 1: 2', 'distribution : 1']];
        yield 'two amounts' => ['aa', ['scatter 0: 1', 'distribution : 0']];
        yield 'one amount' => ['a', ['distribution : 0']];
        yield 'no amount' => ['nnm', []];
        yield 'nothing' => ['', []];
    }

    /**
     * @param  list<string>  $wanted
     */
    #[DataProvider('shapes')]
    public function test_pictures_follow_from_columns(string $roles, array $wanted): void
    {
        $of = ['m' => ColumnRole::Moment, 'a' => ColumnRole::Amount, 'n' => ColumnRole::Name];
        self::assertSame($wanted, array_map(static fn (ChartShape $one): string => "{$one->kind->value} $one->along: ".implode(' ', $one->measured).($one->series === null ? '' : " by $one->series"), ChartShapes::of(array_map(static fn (string $letter): ColumnRole => $of[$letter], $roles === '' ? [] : str_split($roles)))));
    }

    public function test_of_each_pixel_the_extremes_stay(): void
    {
        mt_srand(7);
        $line = new LineThinner(0, 99_999, 500);
        $values = [];
        for ($x = 0; $x < 100_000; $x++) {
            $values[$x] = mt_rand(-1000, 1000) / 10 + ($x === 54_321 ? 9999 : 0);
            $line->add($x, $values[$x]);
        }
        $pieces = $line->pieces();
        self::assertCount(1, $pieces);
        self::assertLessThanOrEqual(4 * 500, count($pieces[0]));
        $by = [];
        foreach ($values as $x => $y) {
            $pixel = (int) floor($x / 99_999 * 499);
            $by[$pixel] = [min($by[$pixel][0] ?? INF, $y), max($by[$pixel][1] ?? -INF, $y)];
        }
        $seen = [];
        foreach ($pieces[0] as [$x, $y]) {
            $pixel = (int) floor($x / 99_999 * 499);
            $seen[$pixel] = [min($seen[$pixel][0] ?? INF, $y), max($seen[$pixel][1] ?? -INF, $y)];
        }
        self::assertEquals($by, $seen);
    }

    public function test_a_gap_stays_a_gap(): void
    {
        $line = new LineThinner(0, 100, 1000);
        foreach ([0, 1, 2, 3, 10, 11, 12, 13, 14] as $x) {
            $line->add($x, 1.0);
        }
        $line->add(15, null);
        $line->add(16, 2.0);
        self::assertSame([[0.0, 3.0], [10.0, 14.0], [16.0, 16.0]], array_map(static fn (array $piece): array => [$piece[0][0], end($piece)[0] ?? null], $line->pieces()));
    }

    public function test_ticks_are_round(): void
    {
        self::assertSame([0.0, 20.0, 40.0, 60.0, 80.0, 100.0], AxisTicks::numbers(0, 100));
        self::assertEqualsWithDelta([-0.2, 0.0, 0.2, 0.4], AxisTicks::numbers(-0.3, 0.5), 1e-9);
        self::assertSame([5.0], AxisTicks::numbers(5, 5));
        self::assertSame(['2031-01', '2031-03', '2031-05'], array_values(AxisTicks::moments((int) gmmktime(0, 0, 0, 1, 1, 2031), (int) gmmktime(0, 0, 0, 6, 20, 2031), 4)));
        self::assertSame(['2031-01-01', '06:00', '12:00', '18:00', '2031-01-02'], array_values(AxisTicks::moments((int) gmmktime(0, 0, 0, 1, 1, 2031), (int) gmmktime(0, 0, 0, 1, 2, 2031), 5)));
        self::assertSame(['1960', '1970', '1980'], array_values(AxisTicks::moments((int) gmmktime(0, 0, 0, 1, 1, 1955), (int) gmmktime(0, 0, 0, 1, 1, 1985), 4)));
        self::assertSame(['0', '12', '9999', '12 k', '1.5 M', '-3 G', '0.0025'], array_map(AxisTicks::short(...), [0.0, 12.0, 9999.0, 12_000.0, 1_500_000.0, -3e9, 0.0025]));
    }
}
