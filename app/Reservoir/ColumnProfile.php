<?php

declare(strict_types=1);

namespace App\Reservoir;

/**
 * What the values of a column are like.
 */
final readonly class ColumnProfile
{
    /**
     * @param  int  $nulls  rows without a value
     * @param  int  $empty  rows with a text of no characters
     * @param  int|null  $distinct  different values; null where they were too many to be counted in time
     * @param  string|null  $least  null where there is no value, or values have no order
     * @param  array{int, int}|null  $lengths  characters of the shortest and the longest text
     * @param  list<array{from: string, to: string, rows: int}>  $bars  of numbers and times: ranges of the same width, from the least to the most
     * @param  list<array{value: string, rows: int}>  $common  of texts and yes or no: the most frequent values
     */
    public function __construct(
        public string $name, public int $nulls, public int $empty, public ?int $distinct, public ?string $least, public ?string $most,
        public ?array $lengths, public array $bars, public array $common,
    ) {
    }

    /**
     * @param  array<string, mixed>  $profile
     */
    public static function fromArray(array $profile): self
    {
        return new self($profile['name'], $profile['nulls'], $profile['empty'], $profile['distinct'], $profile['least'], $profile['most'], $profile['lengths'], $profile['bars'], $profile['common']);
    }
}
