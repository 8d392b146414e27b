<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * A filter or an order that is wrong, or that the database cannot answer exactly as the protocol says.
 */
final class CannotFilter extends \RuntimeException
{
    /**
     * @param  int|null  $at  characters before the place; null where it concerns all of it
     * @param  bool  $isPossible  false where the protocol knows it and it is not done here (501)
     */
    private function __construct(string $message, public readonly ?int $at, public readonly bool $isPossible)
    {
        parent::__construct($message);
    }

    public static function because(string $message, ?int $at = null): self
    {
        return new self($message, $at, true);
    }

    /**
     * @param  string  $name  as it stands in the filter
     */
    public static function notHere(string $name, ?int $at = null, string $why = ''): self
    {
        return new self("$name cannot be answered here".($why === '' ? '.' : ": $why."), $at, false);
    }
}
