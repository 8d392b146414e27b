<?php

declare(strict_types=1);

namespace App\Notes;

/**
 * Something cannot be followed like that. The message is a sentence for who asked.
 */
final class FollowRefused extends \RuntimeException
{
    private function __construct(public readonly string $field, string $sentence)
    {
        parent::__construct($sentence);
    }

    /**
     * @param  string  $field  that it is about: thing, address or daily_at
     */
    public static function of(string $field, string $sentence): self
    {
        return new self($field, $sentence);
    }
}
