<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use DeepSpring\Expression\ExactNumbers;
use DeepSpring\Expression\ValueKind;

/**
 * The value of a column that stands before.
 */
final readonly class ColumnNode implements ExpressionNode
{
    public function __construct(private int $place, private string $type, private int $position)
    {
    }

    public function kind(): ValueKind
    {
        return ValueKind::ofColumn($this->type);
    }

    public function position(): int
    {
        return $this->position;
    }

    public function compile(): \Closure
    {
        $place = $this->place;

        return match ($this->type) {
            'integer' => static fn (array $row): ?int => isset($row[$place]) ? (int) $row[$place] : null,
            'decimal', 'float' => static fn (array $row): mixed => isset($row[$place]) ? ExactNumbers::of($row[$place]) : null,
            'boolean' => static fn (array $row): ?bool => isset($row[$place]) ? $row[$place] === '1' : null,
            'json' => static fn (array $row): mixed => isset($row[$place]) ? json_decode($row[$place], false, 512, JSON_BIGINT_AS_STRING) : null,
            default => static fn (array $row): ?string => $row[$place] ?? null,
        };
    }
}
