<?php

declare(strict_types=1);

namespace App\Queries;

/**
 * A query that was not run, or that the database gave up, in a sentence.
 */
final class QueryRefused extends \RuntimeException
{
    public static function because(string $sentence, ?\Throwable $previous = null): self
    {
        return new self($sentence, 0, $previous);
    }
}
