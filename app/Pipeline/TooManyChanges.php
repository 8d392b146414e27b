<?php

declare(strict_types=1);

namespace App\Pipeline;

/**
 * Changes that cannot be told apart one by one: everything is read instead.
 */
final class TooManyChanges extends \RuntimeException
{
    public static function because(string $reason): self
    {
        return new self($reason);
    }
}
