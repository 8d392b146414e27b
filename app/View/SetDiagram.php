<?php

declare(strict_types=1);

namespace App\View;

use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\Navigation;
use DeepSpring\OData\Model\StructuredType;

/**
 * A set and where navigation leads from it, in numbers for SVG.
 */
final readonly class SetDiagram
{
    public const WIDTH = 560;

    private const ROW = 34;

    /** @var list<array{name: string, label: string, target: ?string, y: int, here: string, there: string, keys: string}> */
    public array $ways;

    public int $height;

    public function __construct(Model $model, public EntitySet $set, StructuredType $type)
    {
        $ways = [];
        foreach (array_values($type->navigations) as $place => $way) {
            $back = $model->type($way->type)?->navigation($way->partner);
            $ways[] = ['name' => $way->name, 'label' => $way->label, 'target' => $model->target($set, $way->name)?->name, 'y' => 24 + self::ROW * $place, 'here' => $back instanceof Navigation ? $back->multiplicity() : '', 'there' => $way->multiplicity(), 'keys' => implode(', ', array_map(static fn (string $here, string $there): string => "$here = $there", array_keys($way->constraints), $way->constraints))];
        }
        $this->ways = $ways;
        $this->height = max(60, 18 + self::ROW * count($ways));
    }

    public function middle(): int
    {
        return intdiv($this->height, 2);
    }

    /**
     * A curve from the set to one of those around it.
     */
    public function curve(int $y): string
    {
        $from = $this->middle();

        return "M150 {$from}C215 {$from} 215 $y 285 $y";
    }
}
