<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;
use DeepSpring\Value\Phrase;

/**
 * Values that have to stand in a column of another table, all of them or most. Empty ones refer to nothing.
 */
final readonly class Refers implements CheckRule
{
    /**
     * @param  string  $table  that is referred to
     * @param  string  $to  its column
     * @param  float  $covers  percent of the values that have to be found
     */
    private function __construct(private string $column, public string $table, public string $to, private float $covers)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('refers', 'refers to another table', 'Values that stand in a column of another table of the same environment, all of them or most. Empty ones refer to nothing.', [
            new Field('refers', FieldType::Column, 'column', 'Name of a column.', isRequired: true, example: 'borrower'),
            new Field('to', FieldType::Text, 'to', 'The other table and its column.', isRequired: true, example: 'borrowers.name', shape: ['type' => 'string', 'pattern' => '^[^.]+\\.[^.]+$', 'maxLength' => 200]),
            new Field('covers', FieldType::Percent, 'at least', 'Percent of the values that have to be found.', default: 100, example: '100'),
        ]);
    }

    public static function of(array $settings, CheckedTable $table): self
    {
        $column = $table->comparableColumn($settings['refers'], 'refers');
        [$other, $to] = explode('.', $settings['to'] ?? '', 2) + [1 => ''];
        if ($other === '' || $to === '') {
            throw InvalidCheck::because('to', 'Say which column of which table: borrowers.name.');
        }

        return new self($column->name, $other, $to, (float) ($settings['covers'] ?? 100));
    }

    public function words(): string
    {
        return ($this->covers < 100 ? "at least {$this->percent($this->covers)} of " : '')."$this->column stands in $this->table.$this->to";
    }

    public function isOfRows(): bool
    {
        return true;
    }

    public function columns(): array
    {
        return [$this->column];
    }

    public function broken(Found $found): ?string
    {
        if ($found->broken === 0 || $this->coverage($found) >= $this->covers) {
            return null;
        }

        return "{$found->some()} of $found->table ".($found->broken === 1 ? 'holds' : 'hold')." a value in $this->column that is not in $this->table.$this->to: {$this->percent($this->coverage($found))} are found".($this->covers < 100 ? ", at least {$this->percent($this->covers)} are asked" : '').'.';
    }

    public function held(Found $found): string
    {
        return $found->broken === 0 ? $found->all() : "{$this->percent($this->coverage($found))} of ".Phrase::count($found->looked ?? $found->rows, 'value').' are found; '.Phrase::count($found->broken, 'row has', 'rows have').' one that is not.';
    }

    private function coverage(Found $found): float
    {
        $looked = $found->looked ?? $found->rows;

        return $looked === 0 ? 100.0 : 100 * ($looked - $found->broken) / $looked;
    }

    /**
     * Never rounded up to what it is not.
     */
    private function percent(float $percent): string
    {
        return (floor($percent * 10) / 10).' %';
    }
}
