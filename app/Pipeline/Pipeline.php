<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Flatten\RowBatch;

/**
 * Pages → rows → a sink: the one loop. Where the pages come from (an API, what was kept, a service's
 * changes) and where the rows go is chosen by who puts it together.
 */
final class Pipeline
{
    /** Where to go on after the last page that was taken; null after the last one of all, and before the first. */
    public ?Position $position = null;

    /** Where the service says what changes from now on. */
    public ?string $changes = null;

    /**
     * @param  RowMaker|null  $rows  null where only the records count
     * @param  (\Closure(string): ?string)|null  $seal  seals a position that holds a secret, given as JSON; null for one that holds none
     */
    public function __construct(private readonly ?RowMaker $rows, private readonly Sink $sink, private readonly ?PipelineObserver $observer = null, public readonly Tally $tally = new Tally, private readonly ?\Closure $seal = null)
    {
    }

    /**
     * @param  iterable<int, ReadPage>  $pages
     * @return bool whether all pages were taken; false when the observer had it stop before the last one
     *
     * @throws ReadingFailed
     * @throws ReadingStopped
     * @throws TooManyChanges
     */
    public function run(iterable $pages): bool
    {
        // Documents hold no cycles; looking for some after every few thousand values costs a tenth.
        gc_disable();
        try {
            foreach ($pages as $page) {
                $this->take($page);
                // Only one page is held at a time.
                unset($page);
                if ($this->observer?->taken($this->tally) === false && $this->position !== null) {
                    return false;
                }
            }

            return true;
        } finally {
            gc_enable();
            // What stayed behind of the pages goes now, and not after some more runs of this worker.
            gc_collect_cycles();
        }
    }

    private function take(ReadPage $page): void
    {
        $batch = $this->rows?->of($page, $this->tally->records) ?? new RowBatch([], [], 0);
        $this->tally->add($page, $batch);
        $this->observer?->made($page, $batch);
        $this->sink->take($page, $batch);
        $this->position = $page->position;
        $this->changes = $page->changes ?? $this->changes;
        if ($this->sink->isDue() && ($page->position !== null || $page->isPart)) {
            $this->sink->commit($page->isPart ? null : $this->state());
            $this->observer?->committed(! $page->isPart);
        }
    }

    /**
     * Makes what came so far safe, so that it can be gone on with.
     *
     * @return bool false where there is nothing to go on from
     */
    public function commit(): bool
    {
        if ($this->position === null) {
            return false;
        }
        $this->sink->commit($this->state());
        $this->observer?->committed(true);

        return true;
    }

    /**
     * How far it got.
     *
     * @return array<string, mixed>
     */
    public function state(): array
    {
        return ['position' => $this->sealed($this->position?->toArray()), 'counts' => $this->tally->toArray()];
    }

    /**
     * @param  array<string, mixed>|null  $position
     * @return array<string, mixed>|null
     */
    private function sealed(?array $position): ?array
    {
        if ($position === null || $this->seal === null) {
            return $position;
        }
        $sealed = ($this->seal)((string) json_encode($position, JSON_UNESCAPED_SLASHES | JSON_INVALID_UTF8_SUBSTITUTE));

        // The page is said in the log.
        return $sealed === null ? $position : ['sealed' => $sealed, 'page' => $position['page']];
    }
}
