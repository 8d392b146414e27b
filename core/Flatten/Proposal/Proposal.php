<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

/**
 * A first plan, as the `flatten` of a source file, and a note for each column that deserves one.
 */
final readonly class Proposal
{
    /**
     * @param  array<string, mixed>  $flatten
     * @param  array<string, string>  $notes  "table.column" → what a person should know
     */
    public function __construct(public array $flatten, public array $notes)
    {
    }
}
