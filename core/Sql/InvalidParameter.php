<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * A value that does not fit its parameter, in a sentence.
 */
final class InvalidParameter extends \RuntimeException
{
    private function __construct(public readonly string $name, string $sentence)
    {
        parent::__construct($sentence);
    }

    public static function missing(string $name): self
    {
        return new self($name, "The query asks for \"$name\", and no value is given.");
    }

    public static function unfit(Parameter $parameter, string $value): self
    {
        return new self($parameter->name, "\"$value\" is no {$parameter->kind->label()} for \"$parameter->name\"".($parameter->kind->hint() === '' ? '.' : ": write one {$parameter->kind->hint()}."));
    }

    public static function several(string $name): self
    {
        return new self($name, "\"$name\" takes one value, and several are given.");
    }
}
