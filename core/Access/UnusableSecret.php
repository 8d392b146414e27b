<?php

declare(strict_types=1);

namespace DeepSpring\Access;

final class UnusableSecret extends \RuntimeException
{
    public static function withControlCharacters(string $what): self
    {
        return new self("The $what holds a line break or another control character, so it cannot be sent in a header. It was probably pasted with it: set it again.");
    }
}
