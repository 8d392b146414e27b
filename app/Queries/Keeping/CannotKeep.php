<?php

declare(strict_types=1);

namespace App\Queries\Keeping;

/**
 * A query that cannot be read as a table, in a sentence.
 */
final class CannotKeep extends \RuntimeException
{
    /**
     * @param  string  $field  of the form that it concerns: name, key or sql
     */
    private function __construct(string $sentence, public readonly string $field, ?\Throwable $previous)
    {
        parent::__construct($sentence, 0, $previous);
    }

    public static function because(string $sentence, string $field = 'sql', ?\Throwable $previous = null): self
    {
        return new self($sentence, $field, $previous);
    }
}
