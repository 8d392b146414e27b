<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * What was counted for one check.
 */
final readonly class CheckCount
{
    /**
     * @param  int  $rows  of the table
     * @param  int  $broken  rows that break the rule
     * @param  int|null  $looked  rows that the rule speaks of, where it does not speak of all
     * @param  string|null  $newest  the largest value of the column
     * @param  string|null  $unknown  why it could not be looked at, in a sentence
     */
    public function __construct(public int $rows = 0, public int $broken = 0, public ?int $looked = null, public ?string $newest = null, public ?string $unknown = null)
    {
    }

    public static function unknown(string $why): self
    {
        return new self(unknown: $why);
    }
}
