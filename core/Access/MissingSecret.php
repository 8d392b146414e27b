<?php

declare(strict_types=1);

namespace DeepSpring\Access;

final class MissingSecret extends \RuntimeException
{
    private function __construct(public readonly string $name, string $message)
    {
        parent::__construct($message);
    }

    public static function named(string $name, string $environment): self
    {
        return new self($name, "The secret \"$name\" has no value in $environment. Set it under Who is asking, or with --secret $name=….");
    }
}
