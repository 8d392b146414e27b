<?php

declare(strict_types=1);

namespace DeepSpring\Answer;

/**
 * The records of one answer, or of a part of a large one, with what is known beside them.
 */
final class RecordPage
{
    private ?Digits $digits = null;

    /** Whether what is around the records comes from elsewhere. */
    private bool $hasEnvelope = false;

    private ?string $envelopeJson = null;

    /** @var list<array{self, int}> the page of each record, and its place there, where several were put together */
    private array $parts = [];

    /** @var (\Closure(int, mixed, Digits): mixed)|null what becomes of a record with its digits */
    private ?\Closure $change = null;

    /**
     * @param  list<mixed>  $values
     * @param  mixed  $envelope  the whole answer; of a large one, what is around its records
     * @param  list<string>|null  $members  names under which the records stand, where they are members of an object
     * @param  (\Closure(): Digits)|null  $source  the same records with numbers as they were written; null where they are not known
     * @param  bool  $hasUnusualNumbers  whether some number may be written so that decoding changes it: with more digits than a float keeps, beyond its range, minus zero
     * @param  array<int, string>  $refused  places of records that must not become rows, and why
     */
    public function __construct(
        public array $values,
        public mixed $envelope = null,
        public ?array $members = null,
        private readonly ?\Closure $source = null,
        public readonly bool $hasUnusualNumbers = false,
        public readonly array $refused = [],
    ) {
    }

    /**
     * Records of a JSON text that is nothing but their list.
     *
     * @param  list<mixed>  $values
     */
    public static function ofList(array $values, string $json, mixed $envelope = null): self
    {
        $loss = DecodingLoss::of($json, $values);
        $refused = $loss->members ? Duplicates::refused($json, array_map(static fn (int $place): array => [$place], array_keys($values))) : [];

        return new self($values, $envelope, null, static fn (): Digits => new Digits($json), $loss->numbers, $refused);
    }

    /**
     * The same records with another envelope around them.
     *
     * @param  string|null  $json  its JSON text; null where it was changed since
     */
    public function within(mixed $envelope, ?string $json): self
    {
        $page = clone $this;
        $page->envelope = $envelope;
        $page->envelopeJson = $json;
        $page->hasEnvelope = true;

        return $page;
    }

    /**
     * Several pages as one, without what is around their records.
     *
     * @param  list<self>  $pages
     * @param  int  $most  records that are taken
     */
    public static function together(array $pages, int $most): self
    {
        $values = $parts = $refused = [];
        $isUnusual = false;
        foreach ($pages as $page) {
            $isUnusual = $isUnusual || $page->hasUnusualNumbers;
            foreach (array_slice($page->values, 0, $most - count($values)) as $place => $value) {
                if (isset($page->refused[$place])) {
                    $refused[count($values)] = $page->refused[$place];
                }
                $values[] = $value;
                $parts[] = [$page, $place];
            }
        }
        $together = new self($values, null, null, null, $isUnusual, $refused);
        $together->parts = $parts;

        return $together;
    }

    /**
     * One of the records by itself.
     */
    public function only(int $index): self
    {
        $one = new self([$this->values[$index]], $this->envelope, isset($this->members[$index]) ? [$this->members[$index]] : null, null, $this->hasUnusualNumbers, isset($this->refused[$index]) ? [$this->refused[$index]] : []);
        $one->parts = [[$this, $index]];

        return $one;
    }

    /**
     * The same records changed, by themselves and with their digits.
     *
     * @param  list<mixed>  $values  as many as there are
     * @param  \Closure(int, mixed, Digits): mixed  $exact  place and record with its digits → that record changed
     */
    public function changed(array $values, mixed $envelope, \Closure $exact): self
    {
        $changed = new self($values, $envelope, $this->members, null, $this->hasUnusualNumbers, $this->refused);
        $changed->parts = array_map(fn (int $index): array => [$this, $index], array_keys($values));
        $changed->change = $exact;

        return $changed;
    }

    /**
     * The records with `JsonText` for each number that PHP would write otherwise, so that a proposal sees
     * what was sent.
     *
     * @return list<mixed>
     */
    public function written(): array
    {
        $written = [];
        foreach ($this->values as $index => $value) {
            $exact = $this->exact($index);
            $written[] = $exact === null ? $value : $exact[1]->written($exact[0]);
        }

        return $written;
    }

    /**
     * What is around the records, with the digits of its numbers as they were written.
     *
     * @return Digits|null null where they are not known
     */
    public function around(): ?Digits
    {
        if ($this->hasEnvelope) {
            return $this->envelopeJson === null ? null : new Digits($this->envelopeJson);
        }
        if ($this->parts !== []) {
            return $this->change === null ? $this->parts[0][0]->around() : null;
        }

        return $this->source === null ? null : $this->digits ??= ($this->source)();
    }

    /**
     * A record with the digits of its numbers as they were written.
     *
     * @return array{mixed, Digits}|null null where they are not known
     */
    public function exact(int $index): ?array
    {
        if (isset($this->parts[$index])) {
            [$page, $place] = $this->parts[$index];

            $exact = $page->exact($place);

            return $exact === null || $this->change === null ? $exact : [($this->change)($index, ...$exact), $exact[1]];
        }
        if ($this->source === null) {
            return null;
        }
        $this->digits ??= ($this->source)();

        return [$this->digits->record($index), $this->digits];
    }
}
