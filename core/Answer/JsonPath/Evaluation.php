<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

/**
 * One query at work on one document, and what it may still cost.
 */
final class Evaluation
{
    /** Nodes that a query may look at in all. */
    public const MOST_VISITED = 8_000_000;

    /** Nodes that a query may hold at once. */
    public const MOST_HELD = 1_000_000;

    /** The same after a descendant segment, whose nodes multiply with each further one, and lie deep. */
    public const MOST_DESCENDED = 500_000;

    private int $left = self::MOST_VISITED;

    /**
     * @param  mixed  $root  what `$` stands for
     */
    public function __construct(public readonly mixed $root)
    {
    }

    /**
     * @param  int  $nodes  that are looked at now
     *
     * @throws TooCostly
     */
    public function visit(int $nodes): void
    {
        $this->left -= $nodes;
        if ($this->left < 0) {
            throw TooCostly::visited(self::MOST_VISITED);
        }
    }

    /**
     * @param  int  $nodes  that a list holds
     *
     * @throws TooCostly
     */
    public function hold(int $nodes, int $most = self::MOST_HELD): void
    {
        if ($nodes > $most) {
            throw TooCostly::held($most);
        }
    }
}
