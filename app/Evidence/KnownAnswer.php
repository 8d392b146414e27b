<?php

declare(strict_types=1);

namespace App\Evidence;

/**
 * An answer to a request for one row.
 */
final readonly class KnownAnswer
{
    /**
     * @param  array<string, string>  $headers  by name in lower case
     */
    public function __construct(public int $status, public array $headers, public string $body)
    {
    }
}
