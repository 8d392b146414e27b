<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Type;

/**
 * A type that keeps some values with a part of them missing, and counts them.
 */
interface TellsLoss
{
    /**
     * @return array<string, int> what was missing → of how many values since the plan was made
     */
    public function losses(): array;
}
