<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use Brick\Math\BigDecimal;
use DeepSpring\Expression\ExactNumbers;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\ValueKind;

/**
 * Equal is whatever is the same value, empty with empty too; smaller and larger are never true of
 * what is empty.
 */
final readonly class ComparisonNode implements ExpressionNode
{
    /**
     * @throws InvalidExpression
     */
    public function __construct(private string $sign, private ExpressionNode $left, private ExpressionNode $right, private int $position)
    {
        [$a, $b] = [$left->kind(), $right->kind()];
        $fits = $a === $b || $a === ValueKind::Any || $b === ValueKind::Any
            || $a->isMoment() && ($b->isMoment() || $b === ValueKind::Text)
            || $b->isMoment() && $a === ValueKind::Text;
        if (! $fits) {
            throw InvalidExpression::at($position, "{$a->value} is compared with {$b->value}, which are never the same".($a === ValueKind::Text && $b === ValueKind::Number ? '; number(…) makes a number of a text.' : ($a === ValueKind::Number && $b === ValueKind::Text ? '; a number stands without quotes.' : '.')));
        }
        if ($a === ValueKind::Boolean && $b === ValueKind::Boolean && ! in_array($sign, ['==', '!='], true)) {
            throw InvalidExpression::at($position, 'true and false are neither smaller nor larger.');
        }
    }

    public function kind(): ValueKind
    {
        return ValueKind::Boolean;
    }

    public function position(): int
    {
        return $this->position;
    }

    public function compile(): \Closure
    {
        $left = $this->left->compile();
        $right = $this->right->compile();

        return match ($this->sign) {
            '==' => static fn (array $row): bool => self::same($left($row), $right($row)),
            '!=' => static fn (array $row): bool => ! self::same($left($row), $right($row)),
            '<' => static fn (array $row): bool => (self::order($left($row), $right($row)) ?? 0) < 0,
            '>' => static fn (array $row): bool => (self::order($left($row), $right($row)) ?? 0) > 0,
            '<=' => static fn (array $row): bool => (self::order($left($row), $right($row)) ?? 1) <= 0,
            default => static fn (array $row): bool => (self::order($left($row), $right($row)) ?? -1) >= 0,
        };
    }

    public static function same(mixed $a, mixed $b): bool
    {
        if ($a === $b) {
            return true;
        }
        if (is_int($a) || $a instanceof BigDecimal || is_float($a)) {
            return (is_int($b) || $b instanceof BigDecimal || is_float($b)) && ExactNumbers::compare(ExactNumbers::of($a), ExactNumbers::of($b)) === 0;
        }

        return is_array($a) && is_array($b) && json_encode($a) === json_encode($b) || $a instanceof \stdClass && $b instanceof \stdClass && json_encode($a) === json_encode($b);
    }

    /**
     * @return int|null null where there is no order
     */
    private static function order(mixed $a, mixed $b): ?int
    {
        if (is_string($a) && is_string($b)) {
            return strcmp($a, $b);
        }
        $areNumbers = (is_int($a) || $a instanceof BigDecimal || is_float($a)) && (is_int($b) || $b instanceof BigDecimal || is_float($b));

        return $areNumbers ? ExactNumbers::compare(ExactNumbers::of($a), ExactNumbers::of($b)) : null;
    }
}
