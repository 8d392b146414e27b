<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * A batch, or the answer to one, cannot be taken apart.
 */
final class UnreadableBatch extends \RuntimeException
{
    public static function because(string $reason): self
    {
        return new self("The answer to the batch cannot be read: $reason.");
    }

    public static function isAsked(string $reason): self
    {
        return new self("The batch cannot be read: $reason.");
    }
}
