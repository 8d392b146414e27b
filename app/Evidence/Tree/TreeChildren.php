<?php

declare(strict_types=1);

namespace App\Evidence\Tree;

final readonly class TreeChildren
{
    /**
     * @param  list<array{string|int, mixed}>  $items  step and value; a `UnreadContainer` for one that is not at hand
     */
    public function __construct(public bool $isArray, public int $total, public int $from, public array $items)
    {
    }
}
