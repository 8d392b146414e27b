<?php

declare(strict_types=1);

namespace App\Queries;

use DeepSpring\Chart\ChartShape;

/**
 * The numbers of a picture.
 */
final readonly class ChartData
{
    /**
     * @param  array<string, list<list<array{float, float}>>>  $lines  name of a series → pieces of its line
     * @param  array<string, array<string, float>>  $bars  what stands along the axis → series → amount
     * @param  list<array{float, float}>  $points
     * @param  array{float, float}  $x  from and to; of moments in seconds since 1970
     * @param  array{float, float}  $y
     * @param  array<int, array<int, float>>  $heat  weekday from Monday, 0 → hour → mean
     * @param  list<int>  $bins  how many values lie in each part of the range
     * @param  int  $rows  that were looked at
     * @param  list<string>  $said  what is not drawn, in sentences
     */
    public function __construct(public ChartShape $shape, public string $along, public string $measured, public array $lines, public array $bars, public array $points, public array $x, public array $y, public array $heat, public array $bins, public int $rows, public array $said)
    {
    }
}
