<?php

declare(strict_types=1);

namespace DeepSpring\Chart;

enum ChartKind: string
{
    case Line = 'line';
    case Multiples = 'multiples';
    case Bars = 'bars';
    case Stacked = 'stacked';
    case Scatter = 'scatter';
    case Heat = 'heat';
    case Distribution = 'distribution';

    public function label(): string
    {
        return match ($this) {
            self::Line => 'line', self::Multiples => 'small multiples', self::Bars => 'bar', self::Stacked => 'stacked bar', self::Scatter => 'scatter', self::Heat => 'heat map by weekday and hour', self::Distribution => 'histogram',
        };
    }
}
