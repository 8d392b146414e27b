<?php

declare(strict_types=1);

namespace DeepSpring\History;

use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\Value\Phrase;

/**
 * What stays of a table: its last states whole, or every version of every row with the time for which it was true.
 */
final readonly class HistorySettings
{
    /** Days, where none are said. */
    public const DAYS = 365;

    /** Rows of all earlier states together, where none are said. */
    public const ROWS = 5_000_000;

    public const FROM = 'valid_from';

    public const TO = 'valid_to';

    /**
     * @param  int|null  $snapshots  states that stay beside the present one; null for versions of rows
     * @param  int  $days  after which a state or a version goes
     * @param  int  $rows  that all of them have together at most; the oldest go first
     */
    private function __construct(public ?int $snapshots, public int $days, public int $rows)
    {
    }

    /**
     * @param  array<string, mixed>  $history  `keep.history`; empty for none
     *
     * @throws InvalidHistory
     */
    public static function of(array $history, ?Plan $plan): ?self
    {
        if ($history === []) {
            return null;
        }
        $changes = ($history['changes'] ?? false) === true;
        if ($changes === isset($history['snapshots'])) {
            throw new InvalidHistory('', 'Say either how many snapshots stay, or that changes do.');
        }
        foreach ($changes && $plan !== null ? $plan->tables() : [] as $table) {
            self::refuse($table);
        }

        return new self($changes ? null : (int) $history['snapshots'], (int) ($history['days'] ?? self::DAYS), (int) ($history['rows'] ?? self::ROWS));
    }

    /**
     * @throws InvalidHistory
     */
    private static function refuse(TablePlan $table): void
    {
        if ($table->key === []) {
            throw new InvalidHistory('.changes', "The table {$table->name} has no key, so a row that changed cannot be told from another one. Give it a key under Flatten, or keep snapshots.");
        }
        foreach ($table->columns as $column) {
            if (in_array(strtolower($column->name), [self::FROM, self::TO], true)) {
                throw new InvalidHistory('.changes', "The table {$table->name} has a column {$column->name} of its own, which is what the history calls the time of a version. Give the column another name under Flatten.");
            }
        }
    }

    public function isOfChanges(): bool
    {
        return $this->snapshots === null;
    }

    /**
     * "the last 7 states, for 365 days and 5,000,000 rows at most"
     */
    public function words(): string
    {
        return ($this->snapshots === null ? 'every version of every row' : 'the last '.Phrase::count($this->snapshots, 'state')).", for {$this->days} days and ".Phrase::count($this->rows, 'row').' at most';
    }
}
