<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\Kind;

final readonly class NotNode implements ExpressionNode
{
    /**
     * @throws InvalidExpression
     */
    public function __construct(private ExpressionNode $node, private int $position)
    {
        if (! Kind::Boolean->takes($node->kind())) {
            throw InvalidExpression::kind($node->position(), '"not"', Kind::Boolean, $node->kind());
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
        $node = $this->node->compile();

        return static fn (array $row): bool => $node($row) !== true;
    }
}
