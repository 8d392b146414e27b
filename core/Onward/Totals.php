<?php

declare(strict_types=1);

namespace DeepSpring\Onward;

use DeepSpring\Value\Phrase;

/**
 * Watches the number of records that the API says there are: whether it changes on the way, and
 * whether it agrees with what came.
 */
final class Totals
{
    private ?int $first = null;

    private ?int $latest = null;

    private ?int $changedOn = null;

    public function __construct(private readonly ?Figure $total)
    {
    }

    public function see(Page $page): void
    {
        $total = $this->total?->read($page) ?? ContentRange::parse($page->headers['content-range'] ?? '')?->total;
        if ($total === null) {
            return;
        }
        if ($this->latest !== null && $total !== $this->latest) {
            $this->changedOn ??= $page->number;
        }
        $this->first ??= $total;
        $this->latest = $total;
    }

    public function latest(): ?int
    {
        return $this->latest;
    }

    /**
     * @return list<PagingFinding>
     */
    public function findings(int $records, bool $cutShort): array
    {
        $findings = [];
        if ($this->changedOn !== null) {
            $findings[] = new PagingFinding('total-changed', "The total changed on the way, from {$this->first} to {$this->latest} (first on page {$this->changedOn}): the list was changed while it was read.");
        }
        if (! $cutShort && $this->latest !== null && $records !== $this->latest && $records !== $this->first) {
            $findings[] = new PagingFinding('total-differs', 'The total says '.Phrase::count($this->latest, 'record').', and '.Phrase::number($records).' came.', true);
        }

        return $findings;
    }

    /**
     * What it says of a number of records, to be put into a sentence; empty when there is no total.
     */
    public function words(int $records): string
    {
        return match (true) {
            $this->latest === null => '',
            $records === $this->latest => "the total says {$this->latest}",
            $records === $this->first => "the total said {$this->first} at the start",
            default => "but the total says {$this->latest}",
        };
    }

    /**
     * @return array<string, int|null>
     */
    public function memory(): array
    {
        return ['first' => $this->first, 'latest' => $this->latest, 'changed_on' => $this->changedOn];
    }

    /**
     * @param  array<string, int|null>  $memory
     */
    public function remember(array $memory): void
    {
        $this->first = $memory['first'] ?? null;
        $this->latest = $memory['latest'] ?? null;
        $this->changedOn = $memory['changed_on'] ?? null;
    }
}
