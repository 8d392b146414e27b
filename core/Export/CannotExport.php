<?php

declare(strict_types=1);

namespace DeepSpring\Export;

/**
 * Rows that cannot be handed out in a format, in a sentence.
 */
final class CannotExport extends \RuntimeException
{
    public static function because(string $sentence): self
    {
        return new self($sentence);
    }
}
