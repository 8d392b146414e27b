<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

/**
 * A first plan, as the `flatten` of a source file, and why it is that one.
 */
final readonly class TableProposal
{
    /**
     * @param  array<string, mixed>  $flatten
     * @param  array<string, string>  $notes  "table.column" → what a person should know
     * @param  array<string, string>  $reasons  table → how it came about: its array, its key
     * @param  list<string>  $asks  "table.column" of those where a person has to say something
     */
    public function __construct(public array $flatten, public array $notes, public array $reasons = [], public array $asks = [])
    {
    }
}
