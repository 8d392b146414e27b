<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\Kind;

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
            if (! Kind::Boolean->takes($node->kind())) {
                throw InvalidExpression::kind($node->position(), $isAnd ? '"and"' : '"or"', Kind::Boolean, $node->kind());
            }
        }
    }

    public function kind(): Kind
    {
        return Kind::Boolean;
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
