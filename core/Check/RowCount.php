<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Phrase;

/**
 * How many rows a table has to have, and by how much that may change from one reading to the next.
 */
final readonly class RowCount implements CheckRule
{
    /** Percent that a table may lose where nothing is said. */
    public const FALL = 50;

    /** Rows from which on a fall is suspected where nothing is said. */
    private const SUSPECTED = 20;

    /**
     * @param  int|null  $changeAtMost  percent of the rows before
     * @param  bool  $isDefault  whether nobody wrote it
     */
    private function __construct(private ?int $atLeast, private ?int $atMost, private ?int $changeAtMost, private bool $isDefault = false)
    {
    }

    public static function kind(): Kind
    {
        $number = static fn (string $name, string $label, string $help): Field => new Field($name, FieldType::Number, $label, $help, at: ['rows', $name]);

        return new Kind('rows', 'number of rows', 'How many rows the table has to have, and by how much that may change from one reading to the next.', [
            new Field('rows', FieldType::Group, 'rows', '`at_least`, `at_most`, `change_at_most` (percent of the rows before).', isRequired: true, shape: [
                'type' => 'object', 'minProperties' => 1, 'additionalProperties' => false, 'properties' => [
                    'at_least' => ['type' => 'integer', 'minimum' => 0], 'at_most' => ['type' => 'integer', 'minimum' => 0],
                    'change_at_most' => ['type' => 'integer', 'minimum' => 0, 'maximum' => 1_000_000, 'description' => 'Percent of the rows before.'],
                ],
            ], parts: [
                $number('at_least', 'at least', 'Rows.'), $number('at_most', 'at most', 'Rows.'), $number('change_at_most', 'changed by at most, in percent', 'Percent of the rows before.'),
            ]),
        ]);
    }

    public static function of(array $settings, CheckedTable $table): self
    {
        $rows = $settings['rows'];

        return new self($rows['at_least'] ?? null, $rows['at_most'] ?? null, $rows['change_at_most'] ?? null);
    }

    /**
     * What holds where nothing is said: a table does not lose half of its rows.
     */
    public static function fall(): self
    {
        return new self(null, null, self::FALL, true);
    }

    public function limitsChange(): bool
    {
        return $this->changeAtMost !== null;
    }

    public function isOfRows(): bool
    {
        return false;
    }

    public function columns(): array
    {
        return [];
    }

    public function broken(Found $found): ?string
    {
        [$before, $now, $table] = [$found->before, $found->rows, $found->table];
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

    public function held(Found $found): string
    {
        return Phrase::count($found->rows, 'row').($found->before === null ? '' : ', '.Phrase::number($found->before).' before').'.';
    }

    public function words(): string
    {
        return implode(', ', array_filter([
            $this->atLeast === null ? null : 'at least '.Phrase::count($this->atLeast, 'row'),
            $this->atMost === null ? null : 'at most '.Phrase::count($this->atMost, 'row'),
            $this->isDefault ? 'less than half of its rows lost' : ($this->changeAtMost === null ? null : "within {$this->changeAtMost} % of what was there before"),
        ]));
    }
}
