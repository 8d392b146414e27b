<?php

declare(strict_types=1);

namespace DeepSpring\Sql;

/**
 * Something that can stand where the cursor is.
 */
final readonly class Proposed
{
    /**
     * @param  string  $kind  table, column, join, function or keyword
     * @param  string  $detail  beside it
     * @param  string|null  $insert  what is written, where that is not the label
     */
    public function __construct(public string $label, public string $kind, public string $detail = '', public ?string $insert = null)
    {
    }

    public function text(): string
    {
        return $this->insert ?? $this->label;
    }
}
