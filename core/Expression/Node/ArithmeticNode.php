<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use Brick\Math\BigDecimal;
use DeepSpring\Expression\ExactNumbers;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\ValueKind;

/**
 * + - * / %; empty when either side is.
 */
final readonly class ArithmeticNode implements ExpressionNode
{
    /**
     * @throws InvalidExpression
     */
    public function __construct(private string $sign, private ExpressionNode $left, private ExpressionNode $right, private int $position)
    {
        foreach ([$left, $right] as $node) {
            if (! ValueKind::Number->takes($node->kind())) {
                throw match (true) {
                    $sign === '+' && $node->kind() === ValueKind::Text => InvalidExpression::at($position, '"+" adds numbers; concat(…) joins texts, number(…) makes a number of one.'),
                    $node->kind()->isMoment() => InvalidExpression::at($position, "\"$sign\" is for numbers; add_days(…) goes on from a day, days_between(…) counts days."),
                    default => InvalidExpression::kind($node->position(), "\"$sign\"", ValueKind::Number, $node->kind()),
                };
            }
        }
    }

    public function kind(): ValueKind
    {
        return ValueKind::Number;
    }

    public function position(): int
    {
        return $this->position;
    }

    public function compile(): \Closure
    {
        $left = $this->left->compile();
        $right = $this->right->compile();
        $sign = $this->sign;

        return static function (array $row) use ($left, $right, $sign): int|BigDecimal|null {
            $a = $left($row);
            $b = $right($row);

            return $a === null || $b === null ? null : ExactNumbers::calculate($sign, ExactNumbers::of($a), ExactNumbers::of($b));
        };
    }
}
