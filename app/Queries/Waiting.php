<?php

declare(strict_types=1);

namespace App\Queries;

/**
 * A statement that has to wait for its turn.
 */
final readonly class Waiting
{
    /**
     * @param  int  $before  of the same person, that wait longer
     * @param  int  $running  of the same person
     */
    public function __construct(public string $ticket, public int $before, public int $running)
    {
    }

    public function sentence(): string
    {
        $most = (int) config('spring.query.person_at_once');

        return match (true) {
            $this->running >= $most => "$most of your statements run already, which is as many as run at once for one person.",
            $this->before > 0 => $this->before === 1 ? 'Another of your statements waits longer.' : "{$this->before} of your statements wait longer.",
            default => 'As many statements of all people run as run at once.',
        };
    }
}
