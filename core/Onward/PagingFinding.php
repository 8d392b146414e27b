<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

/**
 * Something about the pages that a person should know, in a sentence.
 */
final readonly class PagingFinding
{
    public function __construct(
        /** Like `total-differs`; docs/pagination.md explains each. */
        public string $code,
        public string $sentence,
        /** Whether the list may be less, or more, than what the API has. */
        public bool $isDoubt = false,
    ) {
    }

    /**
     * @return array{code: string, sentence: string, doubt: bool}
     */
    public function toArray(): array
    {
        return ['code' => $this->code, 'sentence' => $this->sentence, 'doubt' => $this->isDoubt];
    }

    /**
     * @param  array{code: string, sentence: string, doubt: bool}  $from
     */
    public static function fromArray(array $from): self
    {
        return new self($from['code'], $from['sentence'], $from['doubt']);
    }
}
