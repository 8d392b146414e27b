<?php

declare(strict_types=1);

namespace App\Changes;

/**
 * Why something cannot be changed, in a sentence.
 */
final class CannotChange extends \RuntimeException
{
    public static function because(string $why): self
    {
        return new self($why);
    }
}
