<?php

declare(strict_types=1);

namespace DeepSpring\Describe;

/**
 * Something in a description that was not as it should be, and what was made of it.
 */
final readonly class ImportNotice
{
    private function __construct(
        /** mended: read as it was meant. left-out: not taken over. note: taken over, but worth knowing. */
        public string $kind,
        /** Like `paths./loans.get.operationId`, or the number of a line; empty for the whole. */
        public string $place,
        public string $what,
    ) {
    }

    public static function mended(string $place, string $what): self
    {
        return new self('mended', $place, $what);
    }

    public static function leftOut(string $place, string $what): self
    {
        return new self('left-out', $place, $what);
    }

    public static function note(string $place, string $what): self
    {
        return new self('note', $place, $what);
    }

    public function at(string $place): self
    {
        return new self($this->kind, $place, $this->what);
    }

    /**
     * @return array{kind: string, place: string, what: string}
     */
    public function toArray(): array
    {
        return ['kind' => $this->kind, 'place' => $this->place, 'what' => $this->what];
    }
}
