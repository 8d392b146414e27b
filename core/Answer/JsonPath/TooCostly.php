<?php

declare(strict_types=1);

namespace DeepSpring\Answer\JsonPath;

/**
 * A query that would take more time or memory than one is given, or a regular expression that gave up.
 * What it would have found is not known, so it counts as nothing else.
 */
final class TooCostly extends \RuntimeException
{
    /**
     * @param  bool  $isOfText  whether it is about one text, and another value may go through
     */
    private function __construct(string $message, public readonly bool $isOfText = false)
    {
        parent::__construct($message);
    }

    public static function visited(int $most): self
    {
        return new self('the path looks at more than '.self::written($most).' values of this document; give it fewer wildcards and descendants (..)');
    }

    public static function held(int $most): self
    {
        return new self('the path finds more than '.self::written($most).' values of this document at once; give it fewer wildcards and descendants (..)');
    }

    public static function pattern(string $pattern, string $text): self
    {
        if (preg_last_error() === PREG_BAD_UTF8_ERROR) {
            return new self('a text that is not UTF-8 cannot be matched', true);
        }

        return new self('the regular expression '.mb_strimwidth($pattern, 0, 60, '…', 'UTF-8').' gave up on a text of '.self::written(strlen($text)).' bytes, so whether it matches is not known', true);
    }

    private static function written(int $number): string
    {
        return number_format($number, 0, '.', "\u{2009}");
    }
}
