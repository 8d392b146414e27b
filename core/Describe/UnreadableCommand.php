<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

final class UnreadableCommand extends \RuntimeException
{
    public static function openQuote(string $quote, int $position): self
    {
        return new self("A quote ($quote) is opened at character $position and never closed.");
    }

    public static function withoutAddress(): self
    {
        return new self('The command holds no address.');
    }

    public static function withAddress(string $address): self
    {
        return new self("\"$address\" is no http or https address.");
    }

    public static function valueMissing(string $option): self
    {
        return new self("The option $option stands at the end, without its value.");
    }
}
