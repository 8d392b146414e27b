<?php

declare(strict_types=1);

namespace DeepSpring\Expression;

/**
 * An expression that has no value for one record, like a division by nothing.
 */
final class CannotEvaluate extends \RuntimeException
{
    public static function because(string $reason): self
    {
        return new self($reason);
    }
}
