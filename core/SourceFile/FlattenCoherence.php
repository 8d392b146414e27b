<?php

declare(strict_types=1);

namespace DeepSpring\SourceFile;

use DeepSpring\Ask\StandsFor;
use DeepSpring\Expression\Expression;
use DeepSpring\Expression\InvalidExpression;
use DeepSpring\Expression\Scope;
use DeepSpring\Expression\ValueKind;
use DeepSpring\Value\Moment\Readers;
use DeepSpring\Value\Moment\UnusablePattern;
use DeepSpring\Value\NearestName;
use DeepSpring\Value\WrittenNumber;

/**
 * What must fit together in a table: one source for a column, names that exist, expressions that
 * can be read, forms that the type knows.
 */
final readonly class FlattenCoherence
{
    private const SOURCES = ['from', 'parent', 'envelope', 'input', 'row', 'member', 'position', 'compute'];

    /**
     * @param  list<string>  $inputs  names of the inputs of the endpoint
     * @param  \Closure(string, string): void  $fault  told the place and the sentence
     * @param  bool  $hasRows  whether it is read for each row of a table
     */
    public function __construct(private array $inputs, private PathFaults $paths, private \Closure $fault, private bool $hasRows = false)
    {
    }

    /**
     * @param  array<string, mixed>  $table
     * @param  int  $depth  0 for the main table
     */
    public function table(array $table, string $place, int $depth): void
    {
        $names = [];
        $scope = [];
        foreach ($table['columns'] as $number => $column) {
            $at = "$place.columns[$number]";
            if (in_array($column['name'], $names, true)) {
                $this->fault("$at.name", "There are two columns named \"{$column['name']}\".");
            }
            $names[] = $column['name'];
            $this->source($column, $at, $depth);
            $kind = isset($column['compute']) ? $this->expression($column['compute'], $scope, "$at.compute") : null;
            $type = $column['type'] ?? ($kind?->columnType() ?? (isset($column['position']) ? 'integer' : 'text'));
            $this->form($column, $type, $at);
            $masked = ($column['mask'] ?? 'none') !== 'none';
            if ($masked && ($column['mask'] === 'encrypt' || $column['mask'] === 'redact') && in_array($column['name'], $table['key'] ?? [], true)) {
                $this->fault("$at.mask", "{$column['name']} is part of the key, and a value that is {$column['mask']}ed differs each time or never. Only hash keeps keys apart.");
            }
            if ($masked && array_intersect_key($column, ['from' => 1, 'parent' => 1, 'envelope' => 1]) === []) {
                $this->fault("$at.mask", 'Only what comes out of the answer is masked; what is computed from masked values is made of them anyway.');
            }
            $scope[] = [$column['name'], $masked ? 'text' : $type];
        }
        if (isset($table['where'])) {
            $this->expression($table['where'], $scope, "$place.where", true);
        }
        foreach ($table['key'] ?? [] as $number => $name) {
            if (! in_array($name, $names, true)) {
                $near = NearestName::to($name, $names);
                $this->fault("$place.key[$number]", "The key names \"$name\", which is no column of this table".($near === null ? '.' : "; \"$near\" was probably meant."));
            }
        }
    }

    /**
     * What inputs stand for in queries is compared with columns of the main table.
     *
     * @param  list<array<string, mixed>>  $inputs
     * @param  array<string, mixed>  $table  the main one
     * @param  string  $at  place of the inputs
     */
    public function standing(array $inputs, array $table, string $at): void
    {
        $names = array_column($table['columns'], 'name');
        foreach ($inputs as $number => $input) {
            foreach (isset($input['stands_for']) ? array_diff(StandsFor::of($input['stands_for'])->columns(), array_map(strtolower(...), $names)) : [] as $column) {
                $near = NearestName::to($column, $names);
                $this->fault("{$at}[$number].stands_for", "It speaks of \"$column\", which is no column of this table".($near === null ? '.' : "; \"$near\" was probably meant."));
            }
        }
    }

    /**
     * @param  array<string, mixed>  $column
     */
    private function source(array $column, string $at, int $depth): void
    {
        $sources = array_values(array_filter(self::SOURCES, static fn (string $one): bool => isset($column[$one])));
        if (count($sources) !== 1) {
            $this->fault($at, 'A column has exactly one of '.implode(', ', $depth > 0 ? self::SOURCES : array_diff(self::SOURCES, ['parent'])).'.');
        }
        if ($depth === 0 && isset($column['parent'])) {
            $this->fault($at, 'parent is for the columns of a branch.');
        }
        $up = $column['up'] ?? 0;
        if ($up > 0 && ($depth === 0 || $up >= $depth + (isset($column['member']) || isset($column['position']) ? 1 : 0))) {
            $this->fault("$at.up", 'There is nothing so far up.');
        }
        foreach (['from', 'parent', 'envelope'] as $name) {
            if (isset($column[$name])) {
                $fault = $this->paths->of($column[$name]);
                if ($fault !== null) {
                    $this->fault("$at.$name", $fault);
                }
            }
        }
        if (isset($column['input']) && ! in_array($column['input'], $this->inputs, true)) {
            $near = NearestName::to($column['input'], $this->inputs);
            $this->fault("$at.input", "There is no input \"{$column['input']}\"".($near === null ? '.' : "; \"$near\" was probably meant."));
        }
        if (isset($column['row']) && ! $this->hasRows) {
            $this->fault("$at.row", 'A column of the row is for endpoints that are read for each row of a table: keep.inputs says so with from.');
        }
    }

    /**
     * @param  array<string, mixed>  $column
     */
    private function form(array $column, string $type, string $at): void
    {
        if (isset($column['zone']) && ! in_array($column['zone'], [...\DateTimeZone::listIdentifiers(), 'UTC'], true) && preg_match('/^[+-]\d\d:\d\d$/D', $column['zone']) !== 1) {
            $near = NearestName::to($column['zone'], \DateTimeZone::listIdentifiers(), 0.25);
            $this->fault("$at.zone", "\"{$column['zone']}\" is no time zone, like UTC or +01:00".($near === null ? '.' : "; \"$near\" was probably meant."));
        }
        if (isset($column['scale']) && $type !== 'decimal') {
            $this->fault("$at.scale", "scale is for decimals, and {$column['name']} is $type.");
        }
        if (isset($column['precision']) && ($type !== 'decimal' || $column['precision'] < max(1, $column['scale'] ?? 2))) {
            $this->fault("$at.precision", $type !== 'decimal' ? "precision is for decimals, and {$column['name']} is $type." : "{$column['name']} has {$column['precision']} digits in all, fewer than behind its point.");
        }
        $readAs = $column['read_as'] ?? null;
        if ($readAs === null) {
            return;
        }
        if (in_array($type, ['date', 'datetime', 'time'], true)) {
            try {
                Readers::of($readAs);
            } catch (UnusablePattern $unusable) {
                $this->fault("$at.read_as", $unusable->getMessage().' Or one of '.implode(', ', Readers::NAMED).'.');
            }
        } elseif (in_array($type, ['integer', 'decimal', 'float'], true)) {
            if (! isset(WrittenNumber::FORMS[$readAs])) {
                $this->fault("$at.read_as", "\"$readAs\" says nothing of how a number is written; allowed are ".implode('  ', array_keys(WrittenNumber::FORMS)).'.');
            }
        } elseif ($type === 'boolean') {
            if (preg_match('~^[^/]+/[^/]+$~D', $readAs) !== 1) {
                $this->fault("$at.read_as", 'The words for true and false stand with a / between, like yes/no.');
            }
        } elseif ($type !== 'json' || $readAs !== 'text') {
            $this->fault("$at.read_as", $type === 'json' ? 'JSON is read as it is, or as text that holds it: text.' : "A column of type $type is read as it is.");
        }
    }

    /**
     * @param  list<array{string, string}>  $scope
     */
    private function expression(string $text, array $scope, string $at, bool $isCondition = false): ?ValueKind
    {
        try {
            $expression = $isCondition ? Expression::condition($text, new Scope($scope)) : Expression::of($text, new Scope($scope));

            return $expression->kind();
        } catch (InvalidExpression $invalid) {
            $this->fault($at, $invalid->getMessage());

            return null;
        }
    }

    private function fault(string $place, string $sentence): void
    {
        ($this->fault)($place, $sentence);
    }
}
