<?php

declare(strict_types=1);

namespace App\Pipeline;

use App\Transport\Sent;

/**
 * Whoever looks on while pages are read: told of what happens, and asked whether to go on.
 */
interface FetchObserver
{
    /**
     * An answer that counts.
     *
     * @param  int  $page  from 1; 0 for an answer after which the request was sent once more with a new token
     * @param  int|null  $records  on it; null when it failed
     */
    public function answered(Sent $sent, int $page, ?int $records): void;

    /**
     * A request that will be sent again.
     *
     * @param  float  $wait  seconds until then
     */
    public function again(Sent $sent, int $page, float $wait): void;

    /**
     * Nothing can be sent before a moment.
     *
     * @param  string|null  $for  what is waited for; null when it goes on
     * @param  float  $until  seconds since 1970
     */
    public function waits(?string $for, float $until): void;

    /**
     * Asked several times a second while answers are awaited.
     */
    public function goesOn(): bool;
}
