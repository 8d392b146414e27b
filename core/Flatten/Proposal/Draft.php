<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Proposal;

/**
 * A column to be proposed.
 */
final readonly class Draft
{
    /**
     * @param  non-empty-list<string>  $names  from the record to the field
     * @param  array<string, mixed>|null  $column  what goes with it in a source file; null where its values are still to be looked at
     */
    public function __construct(public array $names, public string $path, public RecordField $field, public ?array $column = null, public ?string $note = null)
    {
    }

    public function last(): string
    {
        return $this->names[count($this->names) - 1];
    }
}
