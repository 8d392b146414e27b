<?php

declare(strict_types=1);

namespace App\Evidence\Tree;

/**
 * A container that is known by its size alone.
 */
final readonly class UnreadContainer
{
    public function __construct(public bool $isArray, public int $count)
    {
    }
}
