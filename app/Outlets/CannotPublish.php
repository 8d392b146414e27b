<?php

declare(strict_types=1);

namespace App\Outlets;

/**
 * A feed cannot be what was asked of it.
 */
final class CannotPublish extends \RuntimeException
{
    private function __construct(string $message, public readonly string $field, ?\Throwable $previous)
    {
        parent::__construct($message, 0, $previous);
    }

    public static function because(string $message, string $field = 'name', ?\Throwable $previous = null): self
    {
        return new self($message, $field, $previous);
    }
}
