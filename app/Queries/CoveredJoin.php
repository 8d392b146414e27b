<?php

declare(strict_types=1);

namespace App\Queries;

use DeepSpring\Sql\JoinedPair;
use DeepSpring\Value\Phrase;

/**
 * A join and what it leaves over, in words.
 */
final readonly class CoveredJoin
{
    public function __construct(public JoinedPair $pair, public CoveredSide $left, public CoveredSide $right)
    {
    }

    /**
     * Whether not all rows were looked at.
     */
    public function isPart(): bool
    {
        return $this->left->isSample || $this->right->isSample || $this->left->looked === null || $this->right->looked === null;
    }

    public function title(): string
    {
        return implode(' and ', array_map(fn (array $columns): string => "{$this->pair->left->alias}.$columns[0] = {$this->pair->right->alias}.$columns[1]", $this->pair->columns));
    }

    /**
     * What became of the rows of a side.
     */
    public function sentence(bool $isLeft): string
    {
        [$side, $name, $stays] = $isLeft ? [$this->left, $this->pair->left->name, $this->pair->keepsLeft] : [$this->right, $this->pair->right->name, $this->pair->keepsRight];
        $other = $isLeft ? $this->pair->right->name : $this->pair->left->name;
        if ($side->looked === null) {
            return "How many rows of $name have a match could not be counted in time.";
        }
        $looked = Phrase::number($side->looked);
        $rows = $side->isSample ? "$looked rows of $name that were looked at, a part of all," : "$looked rows of $name";
        if ($side->looked === 0) {
            return "$name has no rows.";
        }
        if ($side->lone === 0) {
            return $side->looked === 1 ? "The one row of $name has a match in $other." : "All $rows have a match in $other.";
        }
        $empty = $side->empty === 0 ? '' : ', '.Phrase::number($side->empty).' of them since there is nothing to compare';

        return Phrase::number($side->lone)." of $rows ".($side->lone === 1 ? 'has' : 'have')." no match in $other$empty; ".($stays ? 'they stay, with nothing beside them.' : 'they are not in the result.');
    }

    /**
     * Where rows of a side are there several times, since the columns of the other are no key.
     */
    public function multiplied(bool $isLeft): ?string
    {
        [$side, $other] = $isLeft ? [$this->left, $this->pair->right] : [$this->right, $this->pair->left];
        // Of two tables one has many rows for each of the other as a rule; both at once is what surprises.
        if ($side->looked === null || min($this->left->most, $this->right->most) <= 1) {
            return null;
        }
        $found = $side->looked - $side->lone;

        return Phrase::count($found, 'row', 'rows').' with a match become '.Phrase::number($side->made).", since $other->name has up to ".Phrase::number($side->most).' rows of the same '.implode(' and ', array_map(static fn (array $columns): string => $columns[$isLeft ? 1 : 0], $this->pair->columns)).'.';
    }
}
