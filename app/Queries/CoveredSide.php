<?php

declare(strict_types=1);

namespace App\Queries;

/**
 * What a join leaves over of one of its tables.
 */
final readonly class CoveredSide
{
    /**
     * @param  int|null  $looked  rows that were looked at; null where that took too long
     * @param  int  $lone  of these, without a match
     * @param  int  $empty  of these, without a value to compare
     * @param  int  $made  rows that come of them in the other table
     * @param  int  $most  rows that one of them finds there at most
     * @param  bool  $isSample  whether only a part of the rows was looked at
     * @param  list<string>  $likely  what may be wrong, in sentences
     * @param  string  $statement  that shows rows without a match
     */
    public function __construct(public ?int $looked, public int $lone, public int $empty, public int $made, public int $most, public bool $isSample, public array $likely, public string $statement)
    {
    }
}
