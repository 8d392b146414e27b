<?php

declare(strict_types=1);

namespace DeepSpring\Expression\Node;

use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\ValueKind;

/**
 * Whether a value is one of a list.
 */
final readonly class MemberNode implements ExpressionNode
{
    /**
     * @throws InvalidExpression
     */
    public function __construct(private ExpressionNode $value, private ExpressionNode $list, private int $position)
    {
        if (! ValueKind::List->takes($list->kind())) {
            throw InvalidExpression::at($list->position(), "after \"in\" stands a list, like ['open', 'packed'], and this is {$list->kind()->value}.");
        }
        foreach ($list instanceof ItemsNode ? $list->items : [] as $item) {
            new ComparisonNode('==', $value, $item, $item->position());
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
        $value = $this->value->compile();
        $list = $this->list->compile();

        return static function (array $row) use ($value, $list): bool {
            $sought = $value($row);
            $items = $list($row);
            foreach (is_array($items) ? $items : [] as $item) {
                if (ComparisonNode::same($sought, $item)) {
                    return true;
                }
            }

            return false;
        };
    }
}
