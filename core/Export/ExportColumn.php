<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * A column of what is handed out.
 */
final readonly class ExportColumn
{
    /**
     * @param  int|null  $scale  digits after the point, of a decimal
     */
    public function __construct(public string $name, public ExportType $type, public ?int $scale = null)
    {
    }
}
