<?php

declare(strict_types=1);

namespace App\Pipeline;

use DeepSpring\Ask\PageRequest;

/**
 * How far a list was read, so that it can be gone on with in another process.
 */
final readonly class Position
{
    /**
     * @param  int  $page  the next one, from 1
     * @param  PageRequest|null  $next  null for the first page of a reading
     * @param  int  $records  on all pages before it, of this reading
     * @param  (\Closure(): array<string, mixed>)|array<string, mixed>  $memory  of the walk; asked for only as long as the page before is worked on
     * @param  \DateTimeImmutable  $now  when the reading began
     * @param  int  $set  which of the sets of values is read
     * @param  int  $pagesBefore  of earlier readings
     */
    public function __construct(public int $page, public ?PageRequest $next, public int $records, private \Closure|array $memory, public \DateTimeImmutable $now, public int $set = 0, public int $pagesBefore = 0)
    {
    }

    /**
     * As a position in all readings.
     */
    public function after(int $pages, int $set): self
    {
        return new self($this->page + $pages, $this->next, $this->records, $this->memory, $this->now, $set, $pages);
    }

    /**
     * As a position in the reading of its own set.
     */
    public function alone(): self
    {
        return new self($this->page - $this->pagesBefore, $this->next, $this->records, $this->memory, $this->now);
    }

    /**
     * @param  array<string, mixed>  $more  to be remembered
     */
    public function knowing(array $more): self
    {
        return new self($this->page, $this->next, $this->records, $more + $this->memory(), $this->now, $this->set, $this->pagesBefore);
    }

    /**
     * @return array<string, mixed>
     */
    public function memory(): array
    {
        return $this->memory instanceof \Closure ? ($this->memory)() : $this->memory;
    }

    /**
     * @return array<string, mixed>
     */
    public function toArray(): array
    {
        return [
            'page' => $this->page, 'next' => $this->next?->toArray(), 'records' => $this->records, 'memory' => $this->memory(),
            'now' => $this->now->format('c'), 'set' => $this->set, 'pages_before' => $this->pagesBefore,
        ];
    }

    /**
     * @param  array<string, mixed>  $from
     */
    public static function fromArray(array $from): self
    {
        $next = $from['next'] === null ? null : PageRequest::fromArray($from['next']);

        return new self($from['page'], $next, $from['records'], $from['memory'], new \DateTimeImmutable($from['now']), $from['set'] ?? 0, $from['pages_before'] ?? 0);
    }
}
