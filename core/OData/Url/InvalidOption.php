<?php

declare(strict_types=1);

namespace DeepSpring\OData\Url;

/**
 * A system query option that is not written as the protocol writes it.
 */
final class InvalidOption extends \RuntimeException
{
    public static function because(string $sentence): self
    {
        return new self($sentence);
    }
}
