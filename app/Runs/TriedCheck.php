<?php

declare(strict_types=1);

namespace App\Runs;

use App\Models\CheckOutcome;

/**
 * What a check finds in the rows that are there.
 */
final readonly class TriedCheck
{
    /**
     * @param  int|null  $number  on the page; null for what holds without being written
     * @param  list<array<string, string|null>>  $rows  some of those that break it
     */
    public function __construct(public ?int $number, public string $words, public CheckOutcome $outcome, public string $sentence, public array $rows = [])
    {
    }
}
