<?php

declare(strict_types=1);

namespace DeepSpring\Export;

use DeepSpring\Value\Phrase;

/**
 * Cells of which something has to be said: how many, and where the first ones are.
 */
final class CellPlaces
{
    private const NAMED = 5;

    private int $count = 0;

    /** @var list<string> */
    private array $first = [];

    public function note(string $column, int $row): void
    {
        if ($this->count++ < self::NAMED) {
            $this->first[] = "$column in row $row";
        }
    }

    /**
     * @param  string  $one  "1 text … "
     * @return list<string> a sentence, or none where there are no such cells
     */
    public function said(string $one, string $many): array
    {
        return $this->count === 0 ? [] : [Phrase::count($this->count, $one, $many).': '.implode(', ', $this->first).($this->count > self::NAMED ? ', …' : '').'.'];
    }
}
