<?php

declare(strict_types=1);

namespace DeepSpring\Answer\Format;

/**
 * A body as a document, whatever it was written in.
 */
final readonly class Read
{
    /**
     * @param  string  $format  its name
     * @param  string  $how  what was detected, in words; empty for JSON
     * @param  list<BadRecord>  $bad  what could not be read of it
     * @param  bool  $isList  whether the format is a list of records, and nothing beside them
     * @param  string|null  $json  the text of the document, where it is JSON
     */
    public function __construct(public mixed $document, public string $format, public string $how = '', public array $bad = [], public ?string $json = null, public bool $isList = false)
    {
    }
}
