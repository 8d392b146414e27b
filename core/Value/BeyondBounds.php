<?php

declare(strict_types=1);

namespace DeepSpring\Value;

/**
 * A text that is larger than what is read, in whichever way.
 */
final class BeyondBounds extends \RuntimeException
{
    public static function size(int $bytes, int $most): self
    {
        return new self(sprintf('It has %.1f MB, and a text of this kind is read up to %.1f MB.', $bytes / 1_048_576, $most / 1_048_576));
    }

    public static function depth(): self
    {
        return new self('It is nested too deeply.');
    }

    public static function aliases(int $most): self
    {
        return new self('Its aliases (*name) stand for more than '.number_format($most, 0, '.', ' ').' values. Write out what they stand for, or use fewer.');
    }

    public static function values(int $most): self
    {
        return new self('It holds more than '.number_format($most, 0, '.', ' ').' values.');
    }
}
