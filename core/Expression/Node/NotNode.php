<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\ValueKind;

final readonly class NotNode implements ExpressionNode
{
    /**
     * @throws InvalidExpression
     */
    public function __construct(private ExpressionNode $node, private int $position)
    {
        if (! ValueKind::Boolean->takes($node->kind())) {
            throw InvalidExpression::kind($node->position(), '"not"', ValueKind::Boolean, $node->kind());
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
        $node = $this->node->compile();

        return static fn (array $row): bool => $node($row) !== true;
    }
}
