<?php

declare(strict_types=1);

namespace App\Runs;

use DeepSpring\Ask\PageRequest;

/**
 * How far a list was read, so that it can be gone on with in another process.
 */
final readonly class Position
{
    /**
     * @param  int  $page  the next one, from 1
     * @param  int  $records  on all pages before it
     * @param  (\Closure(): array<string, mixed>)|array<string, mixed>  $memory  of the walk; asked for only as long as the page before is worked on
     * @param  \DateTimeImmutable  $now  when the reading began
     */
    public function __construct(public int $page, public PageRequest $next, public int $records, private \Closure|array $memory, public \DateTimeImmutable $now)
    {
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
        return ['page' => $this->page, 'next' => $this->next->toArray(), 'records' => $this->records, 'memory' => $this->memory(), 'now' => $this->now->format('c')];
    }

    /**
     * @param  array<string, mixed>  $from
     */
    public static function fromArray(array $from): self
    {
        return new self($from['page'], PageRequest::fromArray($from['next']), $from['records'], $from['memory'], new \DateTimeImmutable($from['now']));
    }
}
