<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath\Selector;

use DeepSpring\Answer\JsonPath\Evaluation;
use DeepSpring\Answer\JsonPath\JsonNode;

/**
 * A run of elements with a step that may go backwards (§2.3.4).
 */
final readonly class SliceSelector implements Selector
{
    public function __construct(public ?int $start, public ?int $end, public int $step)
    {
    }

    public function select(JsonNode $node, Evaluation $in, array &$found): void
    {
        if (! is_array($node->value) || $this->step === 0) {
            return;
        }
        [$lower, $upper] = $this->bounds(count($node->value));
        $in->visit(max(0, $upper - $lower));
        if ($this->step > 0) {
            for ($i = $lower; $i < $upper; $i += $this->step) {
                $found[] = new JsonNode($node->value[$i], $node->location->child($i));
            }
        } else {
            for ($i = $upper; $i > $lower; $i += $this->step) {
                $found[] = new JsonNode($node->value[$i], $node->location->child($i));
            }
        }
    }

    public function isSingular(): bool
    {
        return false;
    }

    /**
     * The function Bounds of §2.3.4.2.2.
     *
     * @return array{int, int}
     */
    private function bounds(int $length): array
    {
        $start = $this->start ?? ($this->step > 0 ? 0 : $length - 1);
        $end = $this->end ?? ($this->step > 0 ? $length : -$length - 1);
        $start = $start >= 0 ? $start : $length + $start;
        $end = $end >= 0 ? $end : $length + $end;

        return $this->step > 0
            ? [min(max($start, 0), $length), min(max($end, 0), $length)]
            : [min(max($end, -1), $length - 1), min(max($start, -1), $length - 1)];
    }
}
