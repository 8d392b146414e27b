<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * Rows that could not be kept, in a sentence.
 */
final class KeepFailed extends \RuntimeException
{
    public static function because(string $sentence, ?\Throwable $previous = null): self
    {
        return new self($sentence, 0, $previous);
    }
}
