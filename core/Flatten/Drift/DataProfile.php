<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Drift;

use DeepSpring\Flatten\Proposal\RecordField;
use DeepSpring\Flatten\Proposal\SampledValues;
use DeepSpring\Flatten\Proposal\Shapes;

/**
 * What a run saw of its records and rows.
 *
 * @phpstan-type Seen array{times: int, nulls: int, kinds: list<string>, examples: list<string>}
 * @phpstan-type Measure array{empty: int, longest: int, values: list<string>|null, made?: string}
 */
final readonly class DataProfile
{
    private const MOST = 3000;

    private const DEEPEST = 12;

    /**
     * @param  int  $records  of the run
     * @param  int  $looked  records that were looked at
     * @param  array<string, Seen>  $fields  by JSONPath inside the record
     * @param  array<string, int>  $rows  by table
     * @param  array<string, array<string, Measure>>  $columns  by table and column; values are null where there are many
     */
    public function __construct(public int $records, public int $looked, public array $fields, public array $rows, public array $columns)
    {
    }

    /**
     * @return array<string, Seen>
     */
    public static function fields(RecordField $record): array
    {
        $fields = [];
        self::walk($record, '$', 0, $fields);

        return $fields;
    }

    /**
     * @param  array<string, Seen>  $fields
     */
    private static function walk(RecordField $field, string $path, int $depth, array &$fields): void
    {
        if ($path !== '$' && count($fields) < self::MOST) {
            $stats = $field->stats();
            $kinds = array_keys(array_filter(['text' => $stats->texts, 'number' => $stats->integers + $stats->floats, 'boolean' => $stats->booleans, 'object' => $field->objects, 'array' => count($field->lengths)]));
            $fields[$path] = ['times' => $field->present(), 'nulls' => $stats->nulls, 'kinds' => $kinds, 'examples' => SampledValues::examples(array_slice($field->values, 0, 200))];
        }
        if ($depth >= self::DEEPEST) {
            return;
        }
        if ($field->members !== [] && (new Shapes)->isDictionary($field)) {
            self::walk($field->anyMember(), "$path.*", $depth + 1, $fields);
        } else {
            foreach ($field->members as $name => $member) {
                self::walk($member, $path.RecordField::step($name), $depth + 1, $fields);
            }
        }
        if ($field->element !== null && $field->element->present() > 0) {
            self::walk($field->element, "{$path}[*]", $depth + 1, $fields);
        }
    }

    /**
     * @return array<string, mixed>
     */
    public function toArray(): array
    {
        return ['records' => $this->records, 'looked' => $this->looked, 'fields' => $this->fields, 'rows' => $this->rows, 'columns' => $this->columns];
    }

    /**
     * @param  array<string, mixed>  $picture
     */
    public static function fromArray(array $picture): self
    {
        return new self($picture['records'], $picture['looked'], $picture['fields'], $picture['rows'], $picture['columns']);
    }
}
