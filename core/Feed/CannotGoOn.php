<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * The place from which a reader wants to go on is none.
 */
final class CannotGoOn extends \RuntimeException
{
    private function __construct(string $message, public readonly bool $isGone)
    {
        parent::__construct($message);
    }

    public static function isNone(): self
    {
        return new self('This is no address of a next page that was given out here. Take it from the page before, as it is.', false);
    }

    public static function isOfAnother(): self
    {
        return new self('This address of a next page belongs to another question: filter, order, fields and size of page have to stay the same.', false);
    }

    public static function isTooLong(): self
    {
        return new self('The values of the last row are too long for the address of a next page. Sort by a column with shorter ones.', false);
    }

    public static function isGone(): self
    {
        return new self('What this address goes on from is no longer there: the feed was changed, or its rows, which have no key, were replaced. Begin with the first page.', true);
    }
}
