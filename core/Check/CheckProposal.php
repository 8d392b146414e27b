<?php

declare(strict_types=1);

namespace DeepSpring\Check;

/**
 * A rule that held in all rows that were looked at.
 */
final readonly class CheckProposal
{
    /**
     * @param  array<string, mixed>  $settings  of a source file
     * @param  string  $why  what was seen, in a sentence
     */
    public function __construct(public array $settings, public string $why)
    {
    }
}
