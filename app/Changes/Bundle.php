<?php

declare(strict_types=1);

namespace App\Changes;

use App\Transport\Transfer;

/**
 * Several changes that travel in one request.
 */
final class Bundle
{
    public ?Transfer $transfer = null;

    public int $generation = 0;

    public bool $isRenewed = false;

    /**
     * @param  non-empty-list<Flight>  $flights
     */
    public function __construct(public readonly array $flights)
    {
    }
}
