<?php

declare(strict_types=1);

namespace DeepSpring\Flatten\Drift;

use DeepSpring\Answer\Digits;
use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\Mask\MaskedPlaces;
use DeepSpring\Flatten\Mask\Steps;
use DeepSpring\Flatten\Plan;
use DeepSpring\Flatten\Proposal\RecordField;
use DeepSpring\Flatten\RowBatch;
use DeepSpring\Flatten\TablePlan;

/**
 * Looks on while a run flattens. Of the records it looks at many of the first page and some of each
 * further one, and at any that has a member which was not seen before among those it glances at; of
 * the rows it measures all.
 */
final class Watcher
{
    private const FIRST = 400;

    private const EACH = 12;

    /** Records whose values are held; of later ones only what is new is. */
    private const HELD = 3000;

    /** Different values of a column up to which they are listed. */
    private const LISTED = 30;

    /** Bytes of a value that is listed. */
    private const SHORT = 60;

    /** @var non-empty-list<TablePlan> */
    private readonly array $tables;

    private readonly RecordField $field;

    private readonly ?MaskedPlaces $masked;

    private int $records = 0;

    private int $looked = 0;

    /** @var array<int, array<int, array{empty: int, longest: int, values: array<array-key, true>|null}>> by the number of table and column */
    private array $measures = [];

    /** @var array<int, int> */
    private array $rows = [];

    public function __construct(private readonly Plan $plan)
    {
        $this->field = new RecordField;
        $this->masked = $plan->isMasked() ? new MaskedPlaces($plan) : null;
        $this->tables = $plan->tables();
        foreach ($this->tables as $number => $table) {
            $this->rows[$number] = 0;
            foreach ($table->columns as $place => $column) {
                $this->measures[$number][$place] = ['empty' => 0, 'longest' => 0, 'values' => $column->kept->name() === 'text' && $column->isPlain() ? [] : null];
            }
        }
    }

    /**
     * @param  list<mixed>  $records
     */
    public function see(array $records, RowBatch $batch): void
    {
        $this->glance($records);
        foreach ($batch->rows as $number => $rows) {
            if ($rows === []) {
                continue;
            }
            $this->rows[$number] += count($rows);
            foreach (array_keys($this->measures[$number]) as $place) {
                $this->measure($number, $place, array_column($rows, $place));
            }
        }
    }

    /**
     * @param  list<mixed>  $records
     */
    private function glance(array $records): void
    {
        $count = count($records);
        $most = $this->records === 0 ? self::FIRST : self::EACH;
        for ($at = 0; $at < $count; $at += max(1, intdiv($count, $most))) {
            $this->looked++;
            if ($this->looked <= self::HELD || ! self::knows($this->field, $records[$at])) {
                $this->field->take($this->masked === null ? $records[$at] : $this->withoutMasked($records[$at], $this->masked));
            }
        }
        $this->records += $count;
    }

    /**
     * The record with something of the same kind in the place of what is masked.
     */
    private function withoutMasked(mixed $record, MaskedPlaces $masked): mixed
    {
        foreach ($masked->inRecord($record) as [$steps]) {
            $record = Steps::changed($record, $steps, self::blank(Digits::step($record, $steps)));
        }

        return $record;
    }

    private static function blank(mixed $value): mixed
    {
        return match (true) {
            is_string($value) => '',
            is_int($value) => 0,
            is_float($value) => 0.5,
            is_bool($value) => true,
            is_array($value) => array_map(self::blank(...), $value),
            $value instanceof \stdClass => (object) array_map(self::blank(...), get_object_vars($value)),
            default => null,
        };
    }

    private static function knows(RecordField $field, mixed $value): bool
    {
        if ($value instanceof \stdClass) {
            foreach ((array) $value as $name => $member) {
                $known = $field->members[$name] ?? null;
                if ($known === null && count($field->members) < RecordField::MOST_MEMBERS || $known !== null && ! is_scalar($member) && ! self::knows($known, $member)) {
                    return false;
                }
            }
        } elseif (is_array($value)) {
            foreach (array_slice($value, 0, 5) as $element) {
                if ($field->element === null || ! self::knows($field->element, $element)) {
                    return false;
                }
            }
        }

        return true;
    }

    /**
     * @param  list<string|null>  $values
     */
    private function measure(int $number, int $place, array $values): void
    {
        $measure = &$this->measures[$number][$place];
        if (in_array(null, $values, true)) {
            $measure['empty'] += count(array_keys($values, null, true));
            $values = array_filter($values, is_string(...));
        }
        if ($values === [] || $this->tables[$number]->columns[$place]->kept->name() !== 'text') {
            return;
        }
        $longest = $measure['longest'];
        foreach ($values as $value) {
            if (isset($value[$longest])) {
                $longest = strlen($value);
            }
        }
        $measure['longest'] = $longest;
        if ($measure['values'] !== null) {
            $measure['values'] += array_fill_keys($values, true);
            if (count($measure['values']) > self::LISTED || $longest > self::SHORT) {
                $measure['values'] = null;
            }
        }
    }

    /**
     * How a column is made, so that one that is made otherwise is not compared with what it was.
     */
    private static function made(Column $column): string
    {
        return substr(hash('xxh3', (string) json_encode([$column->source->value, $column->path?->text, $column->input, $column->type->name(), $column->many->value, $column->with, $column->mask->value, $column->up, $column->expression?->text])), 0, 12);
    }

    public function picture(): DataProfile
    {
        $rows = $columns = [];
        foreach ($this->tables as $number => $table) {
            $rows[$table->name] = $this->rows[$number];
            foreach ($table->columns as $place => $column) {
                $measure = $this->measures[$number][$place];
                $columns[$table->name][$column->name] = ['empty' => $measure['empty'], 'longest' => $measure['longest'], 'values' => $measure['values'] === null ? null : array_map(strval(...), array_keys($measure['values'])), 'made' => self::made($column)];
            }
        }

        $fields = DataProfile::fields($this->field);

        return new DataProfile($this->records, min($this->looked, $this->records), $fields, $rows, $columns);
    }
}
