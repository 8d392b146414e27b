<?php

declare(strict_types=1);

namespace DeepSpring\Sql\Build;

/**
 * Something that cannot be shown or changed without the text; the message is for people.
 */
final class CannotBuild extends \Exception
{
    public static function because(string $sentence): self
    {
        return new self($sentence);
    }
}
