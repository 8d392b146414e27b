<?php

declare(strict_types=1);

namespace App\People\Provider;

/**
 * A sign-in through the provider that came to nothing, in a sentence.
 */
final class ProviderRefused extends \RuntimeException
{
    public static function because(string $sentence): self
    {
        return new self($sentence);
    }
}
