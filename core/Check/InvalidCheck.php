<?php

declare(strict_types=1);

namespace DeepSpring\Check;

/**
 * What a source file says of a check cannot be followed. The message is a sentence for whoever wrote it.
 */
final class InvalidCheck extends \DomainException
{
    /**
     * @param  string  $where  in the check: "unique", "values"
     */
    private function __construct(string $sentence, public readonly string $where)
    {
        parent::__construct($sentence);
    }

    public static function because(string $where, string $sentence): self
    {
        return new self($sentence, $where);
    }

    /**
     * The same, in the list of checks.
     */
    public function at(int $number): self
    {
        return new self($this->getMessage(), "[$number].$this->where");
    }
}
