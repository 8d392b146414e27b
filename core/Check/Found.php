<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Value\Phrase;

/**
 * What was counted in the rows of a table.
 */
final readonly class Found
{
    /**
     * @param  string  $table  its name, for sentences
     * @param  int  $rows  of the table
     * @param  int  $broken  rows that break the rule
     * @param  int|null  $looked  rows that the rule speaks of, where it does not speak of all
     * @param  string|null  $newest  the largest value of the column, as the database writes it
     * @param  int|null  $before  rows of the table before; null where it was made of something else
     */
    public function __construct(public string $table, public int $rows, public int $broken, public \DateTimeImmutable $now, public ?int $looked = null, public ?string $newest = null, public ?int $before = null)
    {
    }

    /**
     * "17 of 1,284 rows"
     */
    public function some(): string
    {
        return Phrase::number($this->broken).' of '.Phrase::count($this->looked ?? $this->rows, 'row');
    }

    public function all(): string
    {
        $looked = $this->looked ?? $this->rows;
        $empty = $this->rows - $looked;

        return ($looked === 0 ? 'There is no row '.($empty > 0 ? 'with a value ' : '').'to look at' : 'Holds for '.($looked === 1 ? 'the one row' : 'all '.Phrase::count($looked, 'row')).($empty > 0 ? ' with a value' : '')).'.';
    }
}
