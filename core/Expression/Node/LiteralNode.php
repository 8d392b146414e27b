<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use Brick\Math\BigDecimal;
use DeepSpring\Expression\ValueKind;

final readonly class LiteralNode implements ExpressionNode
{
    public function __construct(public string|int|bool|BigDecimal|null $value, private ValueKind $kind, private int $position)
    {
    }

    public static function number(string $digits, int $position): self
    {
        return new self(strlen($digits) < 18 && ctype_digit($digits) ? (int) $digits : BigDecimal::of(substr($digits, 0, 400)), ValueKind::Number, $position);
    }

    public function kind(): ValueKind
    {
        return $this->kind;
    }

    public function position(): int
    {
        return $this->position;
    }

    public function compile(): \Closure
    {
        $value = $this->value;

        return static fn (array $row): string|int|bool|BigDecimal|null => $value;
    }
}
