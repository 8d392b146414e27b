<?php

declare(strict_types=1);

namespace App\View\Tree;

/**
 * A container that is known by its size alone.
 */
final readonly class Stub
{
    public function __construct(public bool $isArray, public int $count)
    {
    }
}
