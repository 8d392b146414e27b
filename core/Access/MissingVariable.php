<?php

declare(strict_types=1);

namespace DeepSpring\Access;

final class MissingVariable extends \RuntimeException
{
    public static function named(string $name, string $environment): self
    {
        return new self("The variable \"$name\" has no value in $environment. Set it under Address.");
    }
}
