<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * A column with a closed set of values. Whether it may be empty is another question.
 */
final readonly class OneOf implements CheckRule
{
    use OfRows;

    /**
     * @param  list<string>  $values  as the database writes them
     */
    private function __construct(private string $column, public array $values)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('one_of', 'one of', 'A column that holds no other values than some. Whether it may be empty is another question.', [
            new Field('one_of', FieldType::Column, 'column', 'Name of a column.', isRequired: true, example: 'status'),
            new Field('values', FieldType::Values, 'values', 'Those it may hold.', isRequired: true, example: 'open, packed, closed'),
        ]);
    }

    public static function of(array $settings, CheckedTable $table): self
    {
        $column = $table->plainColumn($settings['one_of'], 'one_of');
        $values = array_map(static fn (mixed $value): string => $table->value($column, $value, 'values'), $settings['values'] ?? []);

        return $values === [] ? throw InvalidCheck::because('values', 'Say which values it may hold.') : new self($column->name, array_values(array_unique($values)));
    }

    public function words(): string
    {
        $shown = array_slice($this->values, 0, 8);

        return "$this->column is ".(count($this->values) === 1 ? $this->values[0] : 'one of '.implode(', ', $shown).(count($this->values) > 8 ? ' and '.(count($this->values) - 8).' more' : ''));
    }

    public function columns(): array
    {
        return [$this->column];
    }

    private function sentence(Found $found): string
    {
        return "{$found->some()} of $found->table ".($found->broken === 1 ? 'holds' : 'hold')." a value in $this->column that is not among ".implode(', ', array_slice($this->values, 0, 8)).(count($this->values) > 8 ? ', …' : '');
    }
}
