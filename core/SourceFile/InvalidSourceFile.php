<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

final class InvalidSourceFile extends \RuntimeException
{
    /**
     * @param  non-empty-list<Fault>  $faults
     */
    private function __construct(public readonly array $faults, string $message)
    {
        parent::__construct($message);
    }

    /**
     * @param  non-empty-list<Fault>  $faults
     */
    public static function because(array $faults): self
    {
        return new self($faults, implode("\n", array_map(strval(...), $faults)));
    }
}
