<?php

declare(strict_types=1);

namespace DeepSpring\OData\Pushdown;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\ColumnSource;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\OData\Filter\Check;
use DeepSpring\OData\Filter\Condition;
use DeepSpring\OData\Filter\Conditions;
use DeepSpring\OData\Filter\InvalidFilter;
use DeepSpring\OData\Model\EntitySet;
use DeepSpring\OData\Model\Model;
use DeepSpring\OData\Model\StructuredType;
use DeepSpring\OData\Url\InvalidLiteral;

/**
 * Conditions of a query → a filter that lets through at least every row for which they hold. The
 * database looks at them once more, so what the service lets through too much does no harm.
 */
final readonly class Pushdown
{
    /** Types whose comparison and order are the same everywhere; texts are compared as each service likes. */
    private const ALIKE = ['integer', 'decimal', 'boolean', 'date', 'datetime', 'uuid'];

    private const OPERATORS = ['=' => 'eq', '<>' => 'ne', '!=' => 'ne', '<' => 'lt', '<=' => 'le', '>' => 'gt', '>=' => 'ge'];

    public function __construct(private Model $model, private EntitySet $set, private StructuredType $type, private TablePlan $table)
    {
    }

    public function condition(Wanted $wanted, bool $hasOuterJoin = false): PushedPart
    {
        if ($wanted->any !== []) {
            $parts = array_map(fn (Wanted $one): PushedPart => $this->condition($one, $hasOuterJoin), $wanted->any);
            foreach ($parts as $part) {
                if ($part->asked === null) {
                    // Were one of them left out, rows would be missing.
                    return new PushedPart($wanted->text, null, false, $part->why);
                }
            }

            return new PushedPart($wanted->text, '('.implode(' or ', array_map(static fn (PushedPart $part): string => (string) $part->asked, $parts)).')', array_filter($parts, static fn (PushedPart $part): bool => ! $part->isExact) === []);
        }
        $column = $this->column($wanted->column);
        $path = $column === null ? null : $this->path($column);
        if ($column === null || $path === null) {
            return new PushedPart($wanted->text, null, false, "$wanted->column is no single property of the service");
        }
        try {
            $filter = $this->written($wanted, $column, $path, $hasOuterJoin);
        } catch (InvalidLiteral $invalid) {
            return new PushedPart($wanted->text, null, false, rtrim($invalid->getMessage(), '.'));
        }
        if ($filter === null) {
            return new PushedPart($wanted->text, null, false, 'there is no filter that says this safely');
        }
        try {
            $findings = (new Check($this->model, $this->type, $this->set))->filter($filter);
        } catch (InvalidFilter $invalid) {
            return new PushedPart($wanted->text, null, false, rtrim($invalid->getMessage(), '.'));
        }
        $findings = array_values(array_filter($findings, static fn ($finding): bool => ! str_contains($finding->sentence, 'in every filter')));

        return $findings !== [] ? new PushedPart($wanted->text, null, false, rtrim(lcfirst($findings[0]->sentence), '.')) : new PushedPart($wanted->text, $filter, in_array($column->type->name(), self::ALIKE, true) && ! in_array($wanted->operator, ['<>', '!=', 'is null', 'is not null', 'like'], true));
    }

    /**
     * An order, when the service sorts by it as the database does.
     */
    public function order(string $name, bool $fromTheEnd): PushedPart
    {
        $text = $name.($fromTheEnd ? ' desc' : '');
        $column = $this->column($name);
        $path = $column === null ? null : $this->path($column);
        if ($column === null || $path === null || ! in_array($column->type->name(), self::ALIKE, true) || $column->type->name() === 'uuid') {
            return new PushedPart("order by $text", null, false, 'each service sorts texts in its own way');
        }
        $findings = (new Check($this->model, $this->type, $this->set))->order($path);

        return $findings !== [] ? new PushedPart("order by $text", null, false, rtrim(lcfirst($findings[0]->sentence), '.')) : new PushedPart("order by $text", $path.($fromTheEnd ? ' desc' : ''), true);
    }

    /**
     * Properties that columns are made of.
     *
     * @param  list<string>  $names  of columns, as the database knows them
     * @return list<string>
     */
    public function select(array $names): array
    {
        $select = [];
        foreach ($names as $name) {
            $column = $this->column($name);
            $first = $column->names[0] ?? null;
            if ($column !== null && $column->source === ColumnSource::From && $first !== null && $this->type->property($first) !== null) {
                $select[] = count($column->names ?? []) > 1 && $this->model->version->isV4() && $this->model->type($this->type->property($first)->type) !== null ? $first.'/'.$column->names[1] : $first;
            }
        }

        return array_values(array_unique($select));
    }

    public function column(string $name): ?Column
    {
        foreach ($this->table->columns as $column) {
            if (strcasecmp($column->name, $name) === 0) {
                return $column;
            }
        }

        return null;
    }

    private function path(Column $column): ?string
    {
        $names = $column->names ?? [];
        if ($column->source !== ColumnSource::From || ! $column->isPlain() || $names === []) {
            return null;
        }
        $path = implode('/', $names);
        $found = (new Conditions($this->model, $this->type))->look($path);

        return $found === null || $found[1] !== null || ! str_starts_with($this->model->primitive($found[0]), 'Edm.') ? null : $path;
    }

    /**
     * @throws InvalidLiteral
     */
    private function written(Wanted $wanted, Column $column, string $path, bool $hasOuterJoin): ?string
    {
        $ours = new Conditions($this->model, $this->type);
        $type = $column->type->name();
        $values = array_map(static fn (string $value): string => $type === 'boolean' ? ['1' => 'true', '0' => 'false'][$value] ?? strtolower($value) : $value, $wanted->values);
        $one = static fn (string $operator, string $value): string => $ours->write([new Condition($path, $operator, $value)]);
        if (isset(self::OPERATORS[$wanted->operator])) {
            // Texts are ordered as each service likes, so only equality is the same enough.
            return in_array($type, ['text', 'json'], true) && ! in_array($wanted->operator, ['=', '<>', '!='], true) ? null : $one(self::OPERATORS[$wanted->operator], $values[0]);
        }

        return match ($wanted->operator) {
            'between' => $type === 'text' ? null : $one('ge', $values[0]).' and '.$one('le', $values[1]),
            'in' => $this->among($ours, $path, $values),
            'like' => $type === 'text' ? $this->like($one, $values[0]) : null,
            'is not null' => "$path ne null",
            // A value that did not fit is empty here and not at the service; and of an outer join it would make more rows.
            'is null' => $type === 'text' && ! $hasOuterJoin ? "$path eq null" : null,
            default => null,
        };
    }

    /**
     * @param  list<string>  $values
     *
     * @throws InvalidLiteral
     */
    private function among(Conditions $ours, string $path, array $values): string
    {
        $each = array_map(static fn (string $value): string => $ours->write([new Condition($path, 'eq', $value)]), $values);

        return count($each) === 1 ? $each[0] : '('.implode(' or ', $each).')';
    }

    /**
     * @param  \Closure(string, string): string  $one
     */
    private function like(\Closure $one, string $pattern): ?string
    {
        return preg_match('/^(%?)([^%_\\\\]+)(%?)$/Dsu', $pattern, $part) !== 1 ? null : match ([$part[1], $part[3]]) {
            ['', '%'] => $one('startswith', $part[2]),
            ['%', ''] => $one('endswith', $part[2]),
            ['%', '%'] => $one('contains', $part[2]),
            default => $one('eq', $part[2]),
        };
    }
}
