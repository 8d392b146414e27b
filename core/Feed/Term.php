<?php

declare(strict_types=1);

namespace DeepSpring\Feed;

/**
 * A part of a condition: its SQL with a question mark for each value, and what it gives.
 */
final readonly class Term
{
    /**
     * @param  list<string>  $values
     * @param  bool  $mayBeNull  whether it can give nothing
     * @param  bool  $isWhole  whether it is a whole number
     * @param  string|null  $literal  the text of a value that was written in the filter
     */
    public function __construct(public string $sql, public array $values, public TermKind $kind, public bool $mayBeNull = true, public bool $isWhole = false, public ?string $literal = null)
    {
    }

    public static function truth(string $sql, Term ...$of): self
    {
        return self::of(TermKind::Boolean, $sql, ...$of);
    }

    /**
     * @param  string  $sql  with `{0}`, `{1}`, … where the others go, each as often as it is needed
     */
    public static function of(TermKind $kind, string $sql, Term ...$of): self
    {
        $values = [];
        $mayBeNull = false;
        foreach ($of as $term) {
            $mayBeNull = $mayBeNull || $term->mayBeNull;
        }
        $written = preg_replace_callback('/\{(\d)\}/', static function (array $place) use ($of, &$values): string {
            $term = $of[(int) $place[1]];
            array_push($values, ...$term->values);

            return $term->sql;
        }, $sql);

        return new self((string) $written, $values, $kind, $mayBeNull);
    }

    public function whole(): self
    {
        return new self($this->sql, $this->values, $this->kind, $this->mayBeNull, true);
    }

    public function never(): self
    {
        return new self($this->sql, $this->values, $this->kind, false, $this->isWhole);
    }
}
