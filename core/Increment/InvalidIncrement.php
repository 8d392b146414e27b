<?php

declare(strict_types=1);

namespace DeepSpring\Increment;

/**
 * What a source file says of increments cannot be followed. The message is a sentence for whoever wrote it.
 */
final class InvalidIncrement extends \DomainException
{
    /**
     * @param  string  $where  below `keep.refresh`: "since", "since.column"
     */
    private function __construct(string $sentence, public readonly string $where)
    {
        parent::__construct($sentence);
    }

    public static function because(string $where, string $sentence): self
    {
        return new self($sentence, $where);
    }
}
