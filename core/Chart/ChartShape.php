<?php

declare(strict_types=1);

namespace DeepSpring\Chart;

/**
 * A picture that columns allow: what stands along it, what is measured, and what parts it into series.
 */
final readonly class ChartShape
{
    /**
     * @param  int|null  $along  place of the column along the axis; null for a distribution
     * @param  list<int>  $measured  places of columns with amounts
     * @param  int|null  $series  place of the column whose values part the rows
     */
    public function __construct(public ChartKind $kind, public ?int $along, public array $measured, public ?int $series = null)
    {
    }
}
