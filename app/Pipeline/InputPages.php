<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Pace\Pacer;
use App\Transport\Limits;
use DeepSpring\Ask\InputSets;
use DeepSpring\Diagnose\Diagnosis;
use DeepSpring\Onward\End;
use DeepSpring\Onward\PagingFinding;
use DeepSpring\Onward\Walk;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * Sets of values × pages: a list is read for each set, one after the other, as if all of it were one
 * list. Pages are numbered through.
 */
final class InputPages
{
    private ?PageReader $reader = null;

    /** @var list<string> what proves each finished reading whole */
    private array $proofs = [];

    /** @var list<PagingFinding> of finished readings */
    private array $findings = [];

    /**
     * @param  \Closure(): Pacer  $pacer
     * @param  bool  $pagesDiffer  whether the same list was read before
     */
    public function __construct(private readonly SourceConnection $connection, private readonly EndpointDefinition $endpoint, private readonly InputSets $sets, private readonly Limits $limits, private readonly FetchObserver $observer, private readonly \Closure $pacer, private readonly bool $pagesDiffer = false)
    {
    }

    /**
     * @param  Position|null  $from  where an earlier reading got to
     * @param  array<string, string>  $validators  headers that ask whether anything has changed (RFC 9110 §13); only for a single set
     * @param  int|null  $most  pages that are wanted
     * @return \Generator<int, ReadPage, void, End>
     *
     * @throws ReadingFailed
     * @throws ReadingStopped
     */
    public function read(?Position $from = null, array $validators = [], ?int $most = null): \Generator
    {
        $last = $this->sets->count() - 1;
        $before = $from->pagesBefore ?? 0;
        for ($set = $from->set ?? 0; ; $set++) {
            $this->reader = $this->connection->pages();
            $this->reader->pagesDiffer = $this->pagesDiffer;
            $number = $from === null ? 0 : $from->page - $from->pagesBefore - 1;
            $pages = $this->reader->read($this->endpoint, $this->sets->sets[$set], $this->limits, $before === 0 ? $this->observer : new ShiftedObserver($this->observer, $before), ($this->pacer)(), $most, $from?->alone(), $last === 0 ? $validators : []);
            foreach ($pages as $page) {
                $number = $page->number;
                yield $before === 0 && $set === $last ? $page : $page->within($set, $before + $number, $this->after($page, $set, $last, $before));
                // Only one page is held at a time.
                unset($page);
            }
            $end = $pages->getReturn();
            if ($set >= $last) {
                return $end;
            }
            $this->proofs[] = $this->reader->walk?->proof() ?? $end->sentence;
            array_push($this->findings, ...($this->reader->walk?->findings() ?? []));
            $before += $number;
            $from = null;
        }
    }

    /**
     * Where all readings go on after a page of one of them.
     */
    private function after(ReadPage $page, int $set, int $last, int $before): ?Position
    {
        if ($page->position !== null) {
            return $page->position->after($before, $set);
        }

        return $set < $last && ! $page->isPart ? new Position($before + $page->number + 1, null, 0, [], now()->toDateTimeImmutable(), $set + 1, $before + $page->number) : null;
    }

    /**
     * The list that is being read.
     */
    public function walk(): ?Walk
    {
        return $this->reader?->walk;
    }

    /**
     * Records there are, where the API says so and there is one reading.
     */
    public function total(): ?int
    {
        return $this->sets->count() === 1 ? $this->walk()?->total() : null;
    }

    /**
     * What proves that all of it was read, in a sentence.
     */
    public function proof(End $end): string
    {
        $proof = $this->walk()?->proof() ?? $end->sentence;

        return $this->proofs === [] ? $proof : count($this->proofs) + 1 .' readings. The last of them: '.$proof;
    }

    /**
     * @return list<PagingFinding>
     */
    public function findings(): array
    {
        return [...$this->findings, ...($this->walk()?->findings() ?? [])];
    }

    /**
     * @return list<Diagnosis> what is worth saying of the first answer
     */
    public function notes(): array
    {
        return $this->reader->notes ?? [];
    }
}
