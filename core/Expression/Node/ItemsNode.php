<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use DeepSpring\Expression\ValueKind;

/**
 * Several values between brackets.
 */
final readonly class ItemsNode implements ExpressionNode
{
    /**
     * @param  list<ExpressionNode>  $items
     */
    public function __construct(public array $items, private int $position)
    {
    }

    public function kind(): ValueKind
    {
        return ValueKind::List;
    }

    public function position(): int
    {
        return $this->position;
    }

    public function compile(): \Closure
    {
        $items = array_map(static fn (ExpressionNode $item): \Closure => $item->compile(), $this->items);

        return static fn (array $row): array => array_map(static fn (\Closure $item): mixed => $item($row), $items);
    }
}
