<?php

declare(strict_types=1);

namespace App\Reservoir;

final readonly class Order
{
    public function __construct(public ?string $column, public bool $descending)
    {
    }
}
