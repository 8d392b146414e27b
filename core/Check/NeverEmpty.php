<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * Columns that have a value in every row; a text without characters is none.
 */
final readonly class NeverEmpty implements CheckRule
{
    use OfRows;

    /**
     * @param  list<string>  $columns
     */
    private function __construct(private array $columns)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('never_empty', 'never empty', 'Columns that have a value in every row. A text without characters is none.', [
            new Field('never_empty', FieldType::Columns, 'columns', 'Names of columns.', isRequired: true, example: 'borrower, due'),
        ]);
    }

    public static function of(array $settings, CheckedTable $table): self
    {
        return new self($table->columns($settings['never_empty'], 'never_empty'));
    }

    public function words(): string
    {
        return implode(', ', $this->columns).(count($this->columns) === 1 ? ' is' : ' are').' never empty';
    }

    public function columns(): array
    {
        return $this->columns;
    }

    private function sentence(Found $found): string
    {
        return "{$found->some()} of $found->table ".($found->broken === 1 ? 'has' : 'have').' no '.implode(' or no ', $this->columns);
    }
}
