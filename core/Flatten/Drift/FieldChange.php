<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Drift;

/**
 * One way in which the records are not what they were.
 */
final readonly class FieldChange
{
    /**
     * @param  string  $table  that it is about
     * @param  string  $path  JSONPath inside the record; for rows, the name of the column
     * @param  list<string>  $examples
     */
    public function __construct(public ChangeKind $kind, public string $table, public string $path, public string $sentence, public array $examples = [])
    {
    }
}
