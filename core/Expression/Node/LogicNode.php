<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\ValueKind;

/**
 * "and" and "or". What is empty counts as not true, and the right side is looked at only where it matters.
 */
final readonly class LogicNode implements ExpressionNode
{
    /**
     * @throws InvalidExpression
     */
    public function __construct(private bool $isAnd, private ExpressionNode $left, private ExpressionNode $right, private int $position)
    {
        foreach ([$left, $right] as $node) {
            if (! ValueKind::Boolean->takes($node->kind())) {
                throw InvalidExpression::kind($node->position(), $isAnd ? '"and"' : '"or"', ValueKind::Boolean, $node->kind());
            }
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

        return $this->isAnd
            ? static fn (array $row): bool => $left($row) === true && $right($row) === true
            : static fn (array $row): bool => $left($row) === true || $right($row) === true;
    }
}
