<?php

declare(strict_types=1);

namespace App\Http\Find;

/**
 * Something that can be gone to, or done.
 */
final readonly class FoundItem
{
    /**
     * @param  string  $kind  screen, action, source, endpoint, table, column, query or run
     * @param  string  $in  what it belongs to; empty where it belongs to nothing
     */
    public function __construct(public string $kind, public string $name, public string $in, public string $url)
    {
    }
}
