<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * What somebody handed in to be described: a paste, a file, or what was fetched from an address.
 */
final readonly class ImportInput
{
    public string $text;

    public function __construct(
        string $text,
        /** Of the file; empty for a paste. */
        public string $name = '',
        /** Where it was fetched from, which is what relative addresses in it are relative to. */
        public ?string $address = null,
        public Files $files = new Files([]),
        /** @var list<string> base addresses of the source that it is for */
        public array $bases = [],
    ) {
        $this->text = $text;
    }
}
