<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Flatten\Type\Storage;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * Numbers, days or moments between two of them, both included.
 */
final readonly class Range implements CheckRule
{
    use OfRows;

    /**
     * @param  string|null  $atLeast  as the database writes it
     * @param  string|null  $atMost  likewise
     */
    private function __construct(private string $column, public ?string $atLeast, public ?string $atMost)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('range', 'within a range', 'Numbers, days or moments between two of them, both included.', [
            new Field('range', FieldType::Column, 'column', 'Name of a column.', isRequired: true, example: 'fee'),
            new Field('at_least', FieldType::Scalar, 'at least', 'The smallest value it may have.', example: '0'),
            new Field('at_most', FieldType::Scalar, 'at most', 'The largest value it may have.', example: '100'),
        ]);
    }

    public static function of(array $settings, CheckedTable $table): self
    {
        $column = $table->plainColumn($settings['range'], 'range');
        if (in_array($column->kept->storage(), [Storage::Text, Storage::FixedText, Storage::Boolean], true)) {
            throw InvalidCheck::because('range', "\"$column->name\" holds no numbers and no moments.");
        }
        $bound = static fn (string $name): ?string => isset($settings[$name]) ? $table->value($column, $settings[$name], $name) : null;
        [$least, $most] = [$bound('at_least'), $bound('at_most')];

        return $least === null && $most === null ? throw InvalidCheck::because('at_least', 'Say at least or at most how much.') : new self($column->name, $least, $most);
    }

    public function words(): string
    {
        return "$this->column is ".match (true) {
            $this->atLeast === null => "at most $this->atMost",
            $this->atMost === null => "at least $this->atLeast",
            default => "between $this->atLeast and $this->atMost",
        };
    }

    public function columns(): array
    {
        return [$this->column];
    }

    private function sentence(Found $found): string
    {
        return "{$found->some()} of $found->table ".($found->broken === 1 ? 'holds' : 'hold')." a value in $this->column ".implode(' or ', array_filter([$this->atLeast === null ? null : "below $this->atLeast", $this->atMost === null ? null : "above $this->atMost"]));
    }
}
