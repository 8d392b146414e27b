<?php

declare(strict_types=1);

namespace App\Http\Shaping;

/**
 * A field of the sampled records as the shaping page shows it.
 */
final readonly class FieldNode
{
    /**
     * @param  list<string>  $examples
     * @param  list<string>  $uses  ids of the columns that read it
     * @param  list<self>  $below
     */
    public function __construct(
        public string $path,
        public string $name,
        /** In words: text, number, 3 fields, list of 1 to 12. */
        public string $kind,
        /** Times it was there, and could have been. */
        public int $times,
        public int $of,
        public int $nulls,
        public array $examples,
        public array $uses,
        public array $below,
        /** Whether it is a table of its own. */
        public ?string $branch = null,
    ) {
    }

    public function isUsed(): bool
    {
        return $this->uses !== [] || $this->branch !== null;
    }

    /**
     * Whether anything at or below it is used.
     */
    public function isTouched(): bool
    {
        if ($this->isUsed()) {
            return true;
        }
        foreach ($this->below as $one) {
            if ($one->isTouched()) {
                return true;
            }
        }

        return false;
    }
}
