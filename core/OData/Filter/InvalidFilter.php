<?php

declare(strict_types=1);

namespace DeepSpring\OData\Filter;

/**
 * A filter cannot be read.
 */
final class InvalidFilter extends \RuntimeException
{
    /**
     * @param  int  $at  characters before the place
     */
    private function __construct(string $message, public readonly int $at)
    {
        parent::__construct($message);
    }

    public static function hasStray(string $text, int $at): self
    {
        return new self('Character '.($at + 1)." (\"$text\") does not belong here.", $at);
    }

    public static function isNotClosed(int $at): self
    {
        return new self('The text that begins at character '.($at + 1).' has no closing quote. A quote inside a text is doubled.', $at);
    }

    public static function expected(string $what, FilterToken $found): self
    {
        return new self('At character '.($found->at + 1)." $what was expected, and ".($found->kind === FilterTokenKind::End ? 'the filter ends.' : "\"$found->text\" stands there."), $found->at);
    }

    public static function isTooDeep(int $at): self
    {
        return new self('The filter is nested deeper than 100 levels.', $at);
    }

    public static function usesSign(string $sign, string $word, int $at): self
    {
        return new self("Filters compare with words: \"$word\" instead of \"$sign\", at character ".($at + 1).'.', $at);
    }
}
