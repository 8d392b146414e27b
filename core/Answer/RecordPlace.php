<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * A record, and where it stands in its document.
 */
final readonly class RecordPlace
{
    /**
     * @param  list<string|int>  $steps  from the root of the document
     * @param  list<string>|null  $names  of the values of a record that is an array there
     */
    public function __construct(public mixed $value, private array $steps, private ?array $names = null)
    {
    }

    /**
     * @param  list<string|int>  $inside  steps from the record
     * @return list<string|int> steps from the root of the document
     */
    public function inDocument(array $inside): array
    {
        if ($this->names !== null && $inside !== []) {
            $place = array_search((string) $inside[0], $this->names, true);
            // A value without a name got one from its place.
            $inside[0] = $place !== false ? $place : (int) substr((string) $inside[0], strlen('column_')) - 1;
        }

        return [...$this->steps, ...$inside];
    }
}
