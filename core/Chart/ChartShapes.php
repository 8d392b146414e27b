<?php

declare(strict_types=1);

namespace DeepSpring\Chart;

/**
 * The pictures that rows allow, by what their columns are; the likeliest first.
 */
final class ChartShapes
{
    /** Series that can be told apart. */
    public const SERIES = 6;

    /** Series that stand beside each other, each in a panel of its own. */
    public const PANELS = 24;

    /**
     * @param  list<ColumnRole>  $roles
     * @return list<ChartShape>
     */
    public static function of(array $roles): array
    {
        $moments = array_keys($roles, ColumnRole::Moment, true);
        $amounts = array_keys($roles, ColumnRole::Amount, true);
        $names = array_keys($roles, ColumnRole::Name, true);
        if ($amounts === []) {
            return [];
        }
        $shapes = [];
        $first = $amounts[0];
        if ($moments !== []) {
            $shapes[] = new ChartShape(ChartKind::Line, $moments[0], count($names) === 1 ? [$first] : array_slice($amounts, 0, self::SERIES), count($names) === 1 ? $names[0] : null);
            if (count($names) === 1 || count($amounts) > 1) {
                $shapes[] = new ChartShape(ChartKind::Multiples, $moments[0], count($names) === 1 ? [$first] : array_slice($amounts, 0, self::PANELS), count($names) === 1 ? $names[0] : null);
            }
            $shapes[] = new ChartShape(ChartKind::Heat, $moments[0], [$first]);
        }
        if ($names !== []) {
            $shapes[] = new ChartShape(ChartKind::Bars, $names[0], [$first]);
        }
        if (count($names) > 1) {
            $stacked = new ChartShape(ChartKind::Stacked, $names[0], [$first], $names[1]);
            $shapes = $moments === [] ? [$stacked, ...$shapes] : [...$shapes, $stacked];
        } elseif ($names !== [] && count($amounts) > 1) {
            $shapes[] = new ChartShape(ChartKind::Stacked, $names[0], array_slice($amounts, 0, self::SERIES));
        }
        if (count($amounts) > 1) {
            $shapes[] = new ChartShape(ChartKind::Scatter, $first, [$amounts[1]]);
        }
        $shapes[] = new ChartShape(ChartKind::Distribution, null, [$first]);

        return $shapes;
    }
}
