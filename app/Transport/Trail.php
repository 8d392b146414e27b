<?php

declare(strict_types=1);

namespace App\Transport;

/**
 * What happens on the way of one request: the redirects that were followed, and the time spent on
 * looking up names.
 */
final class Trail
{
    /** @var list<array{status: int, to: string}> */
    public array $hops = [];

    public float $milliseconds = 0.0;
}
