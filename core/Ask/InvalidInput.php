<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

final class InvalidInput extends \InvalidArgumentException
{
    private function __construct(public readonly string $input, public readonly string $reason, string $message)
    {
        parent::__construct($message);
    }

    public static function missing(string $input): self
    {
        return new self($input, 'needs a value', "The input \"$input\" needs a value.");
    }

    public static function because(string $input, string $reason): self
    {
        return new self($input, $reason, "The input \"$input\": $reason.");
    }

    public static function unknown(string $input, string $known): self
    {
        return new self($input, 'is not an input of this endpoint', "\"$input\" is not an input of this endpoint; it has ".($known === '' ? 'none' : $known).'.');
    }
}
