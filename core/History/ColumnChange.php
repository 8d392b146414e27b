<?php

declare(strict_types=1);

namespace DeepSpring\History;

/**
 * A column whose values differ between two states, and in how many rows.
 */
final readonly class ColumnChange
{
    public function __construct(public string $column, public int $rows)
    {
    }
}
