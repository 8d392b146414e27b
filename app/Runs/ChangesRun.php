<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\ChangeLink;
use App\Pace\Pacer;
use App\Reservoir\Staging;
use App\Transport\Limits;
use App\View\Show;
use DeepSpring\Answer\Digits;
use DeepSpring\Answer\RecordPage;
use DeepSpring\Ask\PageRequest;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\Plan;
use DeepSpring\OData\DeltaEntry;
use DeepSpring\SourceFile\EndpointDefinition;

/**
 * What changed since the last run, on top of the rows that are kept: the table is made anew beside the
 * old one from the changed rows and all others, so that readers see either all changes or none.
 */
final class ChangesRun
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

    /** @var non-empty-list<string> properties of the key */
    private readonly array $key;

    /** @var list<string> members that rows are made of */
    private readonly array $members;

    /**
     * @throws ChangesUnusable when the rows cannot be told apart by what changes name
     */
    public function __construct(private readonly EndpointDefinition $endpoint, Plan $plan)
    {
        $columns = array_combine(array_map(static fn (Column $column): string => $column->name, $plan->table->columns), $plan->table->columns);
        $key = [];
        foreach ($plan->table->key as $name) {
            $names = $columns[$name]->names ?? [];
            if (($columns[$name]->source ?? null) !== ColumnSource::From || count($names) !== 1) {
                throw new ChangesUnusable('its key is no property of the service');
            }
            $key[$name] = $names[0];
        }
        if ($key === [] || $plan->table->branches !== [] || $plan->isMasked() || $plan->table->where !== null) {
            throw new ChangesUnusable($key === [] ? 'it has no key' : ($plan->table->branches !== [] ? 'it has branch tables' : ($plan->isMasked() ? 'some of it is masked' : 'it has a condition')));
        }
        $this->key = array_values($key);
        $this->members = array_values(array_unique(array_filter(array_map(static fn (Column $column): string => $column->source === ColumnSource::From ? $column->names[0] ?? '' : '', $plan->table->columns), static fn (string $name): bool => $name !== '')));
    }

    /**
     * @return string what came, in a sentence
     *
     * @throws ChangesUnusable when everything has to be read instead
     * @throws ReadingFailed
     * @throws Stopped
     */
    public function read(ChangeLink $since, string $link, Pages $reader, Limits $limits, Watch $watch, Pacer $pacer, Staging $staging, PagesToRows $rows): string
    {
        $onward = ['style' => 'next-link', 'link' => "$['@odata.nextLink','@nextLink']"];
        $endpoint = new EndpointDefinition(['onward' => $onward] + $this->endpoint->endpoint);
        $from = new Position(1, new PageRequest(uri: $link), 0, $endpoint->onward()->walk($now = now()->toDateTimeImmutable())->memory(), $now);
        try {
            foreach ($reader->read($endpoint, $endpoint->ask()->tryValues(), $limits, $watch, $pacer, null, $from) as $page) {
                $this->take($page);
            }
        } catch (ReadingFailed $failed) {
            // An old link is let go with 410; services of middling quality say it with another refusal.
            if ($this->pages === [] && preg_match('/^4(?:00|04|10|22)(?:-|$)/D', $failed->diagnosis->code) === 1) {
                throw new ChangesUnusable('the service does not know any more what changed since then ('.rtrim($failed->diagnosis->what, '.').')');
            }

            throw $failed;
        }
        $this->flatten($rows);
        // Nobody goes on from the middle of it: the changes are asked for again.
        $staging->commit(null);
        $staging->settle();
        $stayed = $staging->carryOver(array_values($this->gone), array_combine($staging->shapes[0]->key, $this->key));
        $changed = count(array_filter($this->last));

        return Show::count($changed, 'row is', 'rows are').' new or changed and '.Show::count(count($this->gone), 'is gone', 'are gone').' since '.$since->updated_at->format('Y-m-d H:i:s').' UTC; the other '.Show::number($stayed).' stayed as they were.';
    }

    /**
     * @throws ChangesUnusable
     */
    private function take(ReadPage $page): void
    {
        $number = count($this->pages);
        foreach ($page->records as $place => $record) {
            $entry = $record instanceof \stdClass ? DeltaEntry::of($record) : null;
            if ($entry === null || $entry->isOfNoMatter()) {
                continue;
            }
            $key = $entry->key($this->key) ?? throw new ChangesUnusable('a change does not say which record it is of');
            $text = implode("\0", $key);
            if ($entry->isRemoved) {
                $this->last[$text] = null;
                $this->gone[$text] = $key;
            } elseif (! $entry->isWhole($this->members)) {
                throw new ChangesUnusable('the service sends only those properties that changed');
            } else {
                $this->last[$text] = [$number, $place];
                unset($this->gone[$text]);
            }
        }
        $this->pages[] = $page;
        $this->link = $page->changes ?? $this->link;
        if (array_sum(array_map(static fn (ReadPage $one): int => strlen($one->sent->body), $this->pages)) > self::MOST) {
            throw new ChangesUnusable('too much has changed');
        }
    }

    /**
     * The last entry of each record, page by page.
     */
    private function flatten(PagesToRows $rows): void
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
            $source = static fn (): Digits => new Digits($body, array_map(static fn (int $place): array => ['value', $place], $chosen));
            $rows->take(new ReadPage($page->number, $page->document, $records, $page->sent, null, new RecordPage($records, $page->document, null, $source, Digits::mayBeLong($body)), $page->bad, heldSecret: $page->heldSecret), null);
        }
    }
}
