<?php

declare(strict_types=1);

namespace App\Operations;

/**
 * Why the database is not of this version, in a sentence.
 */
final class UpgradeRefused extends \RuntimeException
{
    public static function because(string $sentence): self
    {
        return new self($sentence);
    }
}
