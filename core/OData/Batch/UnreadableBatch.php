<?php

declare(strict_types=1);

namespace DeepSpring\OData\Batch;

/**
 * The answer to a batch cannot be taken apart.
 */
final class UnreadableBatch extends \RuntimeException
{
    public static function because(string $reason): self
    {
        return new self("The answer to the batch cannot be read: $reason.");
    }
}
