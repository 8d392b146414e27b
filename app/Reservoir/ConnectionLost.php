<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * The database went away in the middle. What was committed is safe, and can be gone on with.
 */
final class ConnectionLost extends \RuntimeException
{
    public static function because(string $reason): self
    {
        return new self($reason);
    }
}
