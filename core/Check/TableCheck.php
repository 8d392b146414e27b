<?php

declare(strict_types=1);

namespace DeepSpring\Check;

/**
 * A check of one table, and what becomes of rows that break it.
 */
final readonly class TableCheck
{
    /** The new rows are not put in place. */
    public const STOP = 'stop';

    /** They are put in place, and the run says so. */
    public const NOTE = 'note';

    /** The rows concerned go to the rejects. */
    public const DROP = 'drop';

    /** What becomes of them → in words. */
    public const WORDS = [self::STOP => 'or the table stays as it is', self::NOTE => 'or the run says so', self::DROP => 'or the row is left out'];

    /**
     * @param  string  $table  as the source file calls it
     * @param  string  $mark  the same for the same rule over the same table, whatever becomes of the rows
     * @param  int|null  $number  in `keep.checks`, from 0; null for what holds without being written
     */
    public function __construct(public CheckRule $check, public string $table, public string $on, public string $mark, public ?int $number = null)
    {
    }

    public function words(): string
    {
        return $this->check->words().', '.self::WORDS[$this->on];
    }
}
