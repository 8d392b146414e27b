<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Expression\CannotEvaluate;
use DeepSpring\Expression\Expression;
use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * A condition over the row, in the language of computed columns, where `<` and its like never hold of what is empty.
 */
final readonly class Every implements CheckRule
{
    use OfRows;

    /**
     * @param  list<string>  $columns
     */
    private function __construct(private Expression $expression, private array $columns)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('every', 'a condition', 'A condition over the row, in the language of computed columns. There `<` and its like never hold of what is empty: write `fee == null or fee >= 0` where it may be.', [
            new Field('every', FieldType::Condition, 'condition', 'An expression that is true or false.', isRequired: true, example: 'due >= lent', shape: ['$ref' => '#/$defs/expression']),
        ]);
    }

    public static function of(array $settings, CheckedTable $table): self
    {
        return new self($table->condition($settings['every'], 'every'), $table->names());
    }

    public function words(): string
    {
        return $this->expression->text;
    }

    public function columns(): array
    {
        return $this->columns;
    }

    /**
     * Columns that it names, and perhaps some more.
     *
     * @return list<string>
     */
    public function named(): array
    {
        return array_values(array_filter($this->columns, fn (string $name): bool => preg_match('/^\w+$/D', $name) !== 1 || str_contains($this->expression->text, $name)));
    }

    /**
     * @param  array<int, string|null>  $row  values by the place of their column, as the database writes them
     */
    public function isBrokenBy(array $row): bool
    {
        try {
            return ! $this->expression->holds($row);
        } catch (CannotEvaluate) {
            return true;
        }
    }

    private function sentence(Found $found): string
    {
        return "{$this->expression->text} does not hold for {$found->some()} of $found->table";
    }
}
