<?php

declare(strict_types=1);

namespace DeepSpring\Check;

use DeepSpring\Value\Kind\Field;
use DeepSpring\Value\Kind\FieldType;
use DeepSpring\Value\Kind\Kind;

/**
 * Columns whose values, together, no two rows share. Rows in which one of them is empty are not compared, as in SQL.
 *
 * A table holds one row for each key, so of the key this is asked of the records that came.
 */
final readonly class Unique implements CheckRule
{
    use OfRows;

    /**
     * @param  list<string>  $columns
     * @param  bool  $isKey  whether they are the key of the table
     */
    private function __construct(private array $columns, public bool $isKey)
    {
    }

    public static function kind(): Kind
    {
        return new Kind('unique', 'unique', 'Columns whose values, together, no two rows share. Of the key of the table it is asked of the records that came, since the table holds one row for each.', [
            new Field('unique', FieldType::Columns, 'columns', 'Names of columns, together.', isRequired: true, example: 'loan_id'),
        ]);
    }

    public static function of(array $settings, CheckedTable $table): self
    {
        $columns = $table->columns($settings['unique'], 'unique');

        array_map(static fn (string $column): object => $table->comparableColumn($column, 'unique'), $columns);

        return new self($columns, $table->isKey($columns));
    }

    public function words(): string
    {
        return implode(', ', $this->columns).(count($this->columns) === 1 ? ' is unique' : ' are unique together').($this->isKey ? ' in what comes' : '');
    }

    public function isOfRows(): bool
    {
        return ! $this->isKey;
    }

    public function columns(): array
    {
        return $this->columns;
    }

    public function held(Found $found): string
    {
        return $this->isKey ? 'No two records came with the same key.' : $found->all();
    }

    private function sentence(Found $found): string
    {
        return $this->isKey
            ? "Of $found->table ".\DeepSpring\Value\Phrase::count($found->broken, 'record').' came with the key of another one'
            : "{$found->some()} of $found->table share ".implode(', ', $this->columns).' with another row';
    }
}
