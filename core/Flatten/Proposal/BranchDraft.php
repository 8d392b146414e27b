<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

/**
 * A branch table to be proposed.
 */
final readonly class BranchDraft
{
    /**
     * @param  non-empty-list<string>  $names  from the record to the array
     */
    public function __construct(public array $names, public string $from, public RecordField $field, public bool $isDictionary, public string $why)
    {
    }
}
