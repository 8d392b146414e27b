<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Value\Phrase;

/**
 * How many rows a table has to have, and by how much that may change from one reading to the next. Without a rule
 * for it, a table that would lose more than half of its rows is not replaced.
 */
final readonly class RowCount
{
    public const STOP = 'stop';

    public const NOTE = 'note';

    /** Percent that a table may lose where nothing is said. */
    public const FALL = 50;

    /** Rows from which on a fall is suspected where nothing is said. */
    private const SUSPECTED = 20;

    /**
     * @param  int|null  $changeAtMost  percent of the rows before
     * @param  string  $on  what becomes of new rows that break it: STOP or NOTE
     * @param  bool  $isDefault  whether nobody wrote it
     */
    public function __construct(public ?int $atLeast, public ?int $atMost, public ?int $changeAtMost, public string $on = self::STOP, public bool $isDefault = false)
    {
    }

    /**
     * @param  list<array{rows: array{at_least?: int, at_most?: int, change_at_most?: int}, on?: string}>  $checks  of a source file
     * @return list<self> with what holds without a rule
     */
    public static function all(array $checks): array
    {
        $all = array_map(static fn (array $one): self => new self($one['rows']['at_least'] ?? null, $one['rows']['at_most'] ?? null, $one['rows']['change_at_most'] ?? null, $one['on'] ?? self::STOP), $checks);
        $isSaid = array_filter($all, static fn (self $one): bool => $one->changeAtMost !== null) !== [];

        return $isSaid ? $all : [...$all, new self(null, null, self::FALL, isDefault: true)];
    }

    /**
     * @param  int|null  $before  rows of the table that is there; null where it was made of something else
     * @return string|null what is broken, in a sentence; null where nothing is
     */
    public function broken(string $table, ?int $before, int $now): ?string
    {
        $rows = Phrase::count($now, 'row');
        $change = $before === null || $before === 0 ? 0.0 : 100 * ($now - $before) / $before;

        return match (true) {
            $this->atLeast !== null && $now < $this->atLeast => "$table would have $rows; at least ".Phrase::number($this->atLeast).' are asked.',
            $this->atMost !== null && $now > $this->atMost => "$table would have $rows; at most ".Phrase::number($this->atMost).' are asked.',
            $this->isDefault && ($change > -self::FALL || $before < self::SUSPECTED) => null,
            $this->changeAtMost !== null && abs($change) > $this->changeAtMost, $this->isDefault => "$table would have $rows, ".Phrase::number((int) round(abs($change))).' % '.($change < 0 ? 'fewer' : 'more').' than the '.Phrase::number((int) $before).' that are there; '.($this->isDefault ? 'a fall by half or more is not taken over without a word.' : "a change of at most {$this->changeAtMost} % is asked."),
            default => null,
        };
    }

    public function words(): string
    {
        $parts = array_filter([
            $this->atLeast === null ? null : 'at least '.Phrase::count($this->atLeast, 'row'),
            $this->atMost === null ? null : 'at most '.Phrase::count($this->atMost, 'row'),
            $this->isDefault ? 'less than half of its rows lost' : ($this->changeAtMost === null ? null : "within {$this->changeAtMost} % of what was there before"),
        ]);

        return implode(', ', $parts).($this->on === self::STOP ? ', or the table stays as it is' : ', or the run says so');
    }
}
