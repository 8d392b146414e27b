<?php

declare(strict_types=1);

namespace App\View\Tree;

final readonly class Children
{
    /**
     * @param  list<array{string|int, mixed}>  $items  step and value; a `Stub` for one that is not at hand
     */
    public function __construct(public bool $isArray, public int $total, public int $from, public array $items)
    {
    }
}
