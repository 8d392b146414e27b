<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Pace\Pacer;
use App\Transport\Limits;
use DeepSpring\Answer\Digits;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\Plan;
use DeepSpring\OData\DeltaEntry;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * What a service says has changed since a run (OData 4.01 part 1 §11.3): the last entry of each record that
 * is there, as pages, and the keys of those that are gone.
 */
final class DeltaPages
{
    /** Bytes of answers that are held at once; with more, reading everything is no worse. */
    private const MOST = 96 << 20;

    /** Where the service says the next changes. */
    public ?string $link = null;

    /** @var list<ReadPage> */
    private array $pages = [];

    /** @var array<string, array{int, int}|null> key → page and place of its last entry; null when it is gone */
    private array $last = [];

    /** @var array<string, array<string, string>> key → its values, of those that are gone */
    private array $gone = [];

    /** @var non-empty-array<string, string> columns of the key, as the plan names them → properties */
    public readonly array $key;

    /** @var list<string> members that rows are made of */
    private readonly array $members;

    /**
     * @throws DeltaUnusable when the rows cannot be told apart by what changes name
     */
    public function __construct(private readonly EndpointDefinition $endpoint, Plan $plan)
    {
        $columns = array_combine(array_map(static fn (Column $column): string => $column->name, $plan->table->columns), $plan->table->columns);
        $key = [];
        foreach ($plan->table->key as $name) {
            $names = $columns[$name]->names ?? [];
            if (($columns[$name]->source ?? null) !== ColumnSource::From || count($names) !== 1) {
                throw new DeltaUnusable('its key is no property of the service');
            }
            $key[$name] = $names[0];
        }
        if ($key === [] || $plan->table->branches !== [] || $plan->isMasked() || $plan->table->where !== null) {
            throw new DeltaUnusable($key === [] ? 'it has no key' : ($plan->table->branches !== [] ? 'it has branch tables' : ($plan->isMasked() ? 'some of it is masked' : 'it has a condition')));
        }
        $this->key = $key;
        $this->members = array_values(array_unique(array_filter(array_map(static fn (Column $column): string => $column->source === ColumnSource::From ? $column->names[0] ?? '' : '', $plan->table->columns), static fn (string $name): bool => $name !== '')));
    }

    /**
     * Asks for all changes, then hands out the last entry of each record.
     *
     * @param  string  $link  where the service says what changed
     * @param  array<string, list<string>>  $inputs
     * @return \Generator<int, ReadPage>
     *
     * @throws DeltaUnusable when everything has to be read instead
     * @throws ReadingFailed
     * @throws ReadingStopped
     */
    public function read(string $link, PageReader $reader, array $inputs, Limits $limits, FetchObserver $watch, Pacer $pacer): \Generator
    {
        $onward = ['style' => 'next-link', 'link' => "$['@odata.nextLink','@nextLink']"];
        $endpoint = new EndpointDefinition(['onward' => $onward] + $this->endpoint->endpoint);
        $from = new Position(1, new PageRequest(uri: $link), 0, $endpoint->onward()->walk($now = now()->toDateTimeImmutable())->memory(), $now);
        try {
            foreach ($reader->read($endpoint, $inputs, $limits, $watch, $pacer, null, $from) as $page) {
                $this->take($page);
            }
        } catch (ReadingFailed $failed) {
            // An old link is let go with 410; services of middling quality say it with another refusal.
            if ($this->pages === [] && preg_match('/^4(?:00|04|10|22)(?:-|$)/D', $failed->diagnosis->code) === 1) {
                throw new DeltaUnusable('the service does not know any more what changed since then ('.rtrim($failed->diagnosis->what, '.').')');
            }

            throw $failed;
        }
        yield from $this->lastEntries();
    }

    /**
     * Keys of records that are gone, by the names of their properties.
     *
     * @return list<array<string, string>>
     */
    public function gone(): array
    {
        return array_values($this->gone);
    }

    /**
     * Records that are new or changed.
     */
    public function changed(): int
    {
        return count(array_filter($this->last));
    }

    /**
     * @throws DeltaUnusable
     */
    private function take(ReadPage $page): void
    {
        $number = count($this->pages);
        foreach ($page->records as $place => $record) {
            $entry = $record instanceof \stdClass ? DeltaEntry::of($record) : null;
            if ($entry === null || $entry->isOfNoMatter()) {
                continue;
            }
            $key = $entry->key(array_values($this->key)) ?? throw new DeltaUnusable('a change does not say which record it is of');
            $text = implode("\0", $key);
            if ($entry->isRemoved) {
                $this->last[$text] = null;
                $this->gone[$text] = $key;
            } elseif (! $entry->isWhole($this->members)) {
                throw new DeltaUnusable('the service sends only those properties that changed');
            } else {
                $this->last[$text] = [$number, $place];
                unset($this->gone[$text]);
            }
        }
        $this->pages[] = $page;
        $this->link = $page->changes ?? $this->link;
        if (array_sum(array_map(static fn (ReadPage $one): int => strlen($one->sent->body), $this->pages)) > self::MOST) {
            throw new DeltaUnusable('too much has changed');
        }
    }

    /**
     * Page by page.
     *
     * @return \Generator<int, ReadPage>
     */
    private function lastEntries(): \Generator
    {
        $places = [];
        foreach ($this->last as $at) {
            if ($at !== null) {
                $places[$at[0]][] = $at[1];
            }
        }
        foreach ($this->pages as $number => $page) {
            $chosen = $places[$number] ?? [];
            sort($chosen);
            $records = array_map(static fn (int $place): mixed => $page->records[$place], $chosen);
            $body = $page->sent->body;
            $digits = static fn (): Digits => new Digits($body, array_map(static fn (int $place): array => ['value', $place], $chosen));
            $known = new RecordPage($records, $page->document, null, $digits, Digits::mayBeUnusual($body));
            // Nobody goes on from the middle of it: the changes are asked for again.
            yield new ReadPage($page->number, $page->document, $records, $page->sent, null, $known, $page->bad, isPart: true, heldSecret: $page->heldSecret);
        }
    }
}
