<?php

declare(strict_types=1);

namespace DeepSpring\Change;

use DeepSpring\Flatten\Column;

/**
 * What can be done with a column of a table whose records can be changed.
 */
final readonly class ChangeableColumn
{
    /**
     * @param  bool  $inUpdate  whether records that are there can be changed in it
     * @param  bool  $inCreate  whether a new record can be given a value
     * @param  bool  $isNeeded  whether a new record needs one
     * @param  bool  $mayBeEmptied  whether an update can say that there is none
     * @param  list<string>  $choices  values that are offered, where these are known
     * @param  array{table: string, column: string}|null  $offeredBy  where else they stand
     * @param  string  $why  it cannot be changed; empty where it can
     */
    public function __construct(public Column $column, public bool $inUpdate, public bool $inCreate, public bool $isNeeded, public bool $mayBeEmptied, public array $choices, public ?array $offeredBy, public string $why = '')
    {
    }
}
