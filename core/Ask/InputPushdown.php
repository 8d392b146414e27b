<?php

declare(strict_types=1);

namespace DeepSpring\Ask;

use DeepSpring\Flatten\Column;
use DeepSpring\Flatten\TablePlan;
use DeepSpring\OData\Pushdown\PushedPart;
use DeepSpring\OData\Pushdown\Wanted;

/**
 * Conditions of a query → values of the inputs that stand for them. What an input asks for has to let through at least
 * every row for which the condition holds; the database looks at all of them again.
 */
final class InputPushdown
{
    /** Types whose comparison and order are the same everywhere; texts are compared as each service likes. */
    private const ALIKE = ['integer', 'decimal', 'boolean', 'date', 'datetime', 'uuid'];

    /** Readings that several values of an input without a list may become. */
    private const READINGS = 50;

    /** Operators of inputs that let through what an operator of a query wants, the exact one first. */
    private const FITTING = ['=' => ['=', 'in', 'begins', 'contains'], '<>' => ['<>'], '<' => ['<', '<='], '<=' => ['<='], '>' => ['>', '>='], '>=' => ['>='], 'in' => ['in', '=']];

    /** @var array<string, list<string>> values by input */
    public array $values = [];

    /** @var array<string, list<list<string>>> readings of an input, one after the other */
    public array $readings = [];

    /**
     * @param  list<Input>  $inputs
     * @param  list<string>  $taken  names of inputs that have a value already
     */
    public function __construct(private readonly array $inputs, private readonly TablePlan $table, private readonly array $taken)
    {
    }

    public function condition(Wanted $wanted): PushedPart
    {
        $column = $this->column($wanted->column);
        if ($column === null) {
            return new PushedPart($wanted->text, null, false, "$wanted->column is no column of it");
        }
        if ($wanted->operator === 'between') {
            // Either end alone lets through all that is between.
            $ends = array_filter(array_map(fn (array $wish): ?array => $this->ask($column, ...$wish), $this->wishes($wanted, $column)));
            if ($ends !== []) {
                $isExact = count($ends) === 2 && array_filter($ends, static fn (array $end): bool => ! $end[1]) === [];

                return new PushedPart($wanted->text, implode(' and ', array_column($ends, 0)), $isExact && in_array($column->type->name(), self::ALIKE, true));
            }
        }
        foreach ($wanted->operator === 'between' ? [] : $this->wishes($wanted, $column) as [$operator, $values]) {
            $asked = $this->ask($column, $operator, $values);
            if ($asked !== null) {
                [$said, $isExact] = $asked;

                return new PushedPart($wanted->text, $said, $isExact && in_array($column->type->name(), self::ALIKE, true));
            }
        }

        return new PushedPart($wanted->text, null, false, "no input stands for it: say which one does under its inputs, as \"$wanted->column ".(self::FITTING[$wanted->operator] ?? ['='])[0].'"');
    }

    public function order(string $name, bool $fromTheEnd): PushedPart
    {
        $text = $name.($fromTheEnd ? ' desc' : '');
        $column = $this->column($name);
        foreach ($this->standing() as [$input, $stands]) {
            $value = $stands->orders[strtolower($text)] ?? null;
            if ($value !== null && ! isset($this->values[$input->name])) {
                if ($column === null || ! in_array($column->type->name(), self::ALIKE, true)) {
                    return new PushedPart("order by $text", null, false, 'each service sorts texts in its own way');
                }
                $this->values[$input->name] = [$value];

                return new PushedPart("order by $text", "$input->name=$value", true);
            }
        }

        return new PushedPart("order by $text", null, false, 'no input stands for this order');
    }

    public function rows(int $rows): ?PushedPart
    {
        foreach ($this->standing() as [$input, $stands]) {
            if ($stands->isRows && ! isset($this->values[$input->name])) {
                $this->values[$input->name] = [(string) $rows];

                return new PushedPart("limit $rows", "$input->name=$rows", true);
            }
        }

        return null;
    }

    /**
     * What a condition can be taken as.
     *
     * @return list<array{string, list<string>}> operators of FITTING with values as the service takes them
     */
    private function wishes(Wanted $wanted, Column $column): array
    {
        $values = array_map(fn (string $value): ?string => self::sent($column, $value), $wanted->values);
        if (in_array(null, $values, true)) {
            return [];
        }
        $values = array_map(strval(...), $values);
        $isText = in_array($column->type->name(), ['text', 'json'], true);

        return match ($wanted->operator) {
            '=', 'in' => [[$wanted->operator, $values]],
            '<>', '!=' => [['<>', $values]],
            // Texts are ordered as each service likes.
            '<', '<=', '>', '>=' => $isText ? [] : [[$wanted->operator, $values]],
            'between' => $isText ? [] : [['>=', [$values[0]]], ['<=', [$values[1]]]],
            'like' => $isText ? self::pattern($values[0]) : [],
            default => [],
        };
    }

    /**
     * @return list<array{string, list<string>}>
     */
    private static function pattern(string $pattern): array
    {
        return preg_match('/^(%?)([^%_\\\\]+)(%?)$/Dsu', $pattern, $part) !== 1 ? [] : match ([$part[1], $part[3]]) {
            ['', '%'] => [['begins', [$part[2]]], ['contains', [$part[2]]]],
            ['', ''] => [['=', [$part[2]]]],
            default => [['contains', [$part[2]]]],
        };
    }

    /**
     * @param  list<string>  $values
     * @return array{string, bool}|null what is asked, and whether that is all of the condition
     */
    private function ask(Column $column, string $operator, array $values): ?array
    {
        foreach (self::FITTING[$operator] ?? [$operator] as $fitting) {
            foreach ($this->standing() as [$input, $stands]) {
                if ($stands->operator !== $fitting || strcasecmp($stands->column, $column->name) !== 0 || isset($this->values[$input->name]) || isset($this->readings[$input->name]) || count($values) > 1 && in_array($fitting, ['begins', 'contains'], true)) {
                    continue;
                }
                if (array_filter($values, static fn (string $value): bool => $input->fault([$value]) !== null || $input->many !== null && str_contains($value, $input->many->joined(['', '']))) !== []) {
                    continue;
                }
                if (count($values) === 1 || $input->many !== null) {
                    $this->values[$input->name] = $values;
                } elseif (count($values) <= self::READINGS && $this->table->key !== [] && $this->readings === []) {
                    // Rows that two readings give are one by their key.
                    $this->readings[$input->name] = array_map(static fn (string $value): array => [$value], $values);
                } else {
                    continue;
                }

                return ["$input->name=".implode(', ', $values), $fitting === $operator || $operator === 'in' && $fitting === '=' || $operator === '=' && $fitting === 'in'];
            }
        }

        return null;
    }

    /**
     * Inputs that stand for something and have no value yet.
     *
     * @return list<array{Input, StandsFor}>
     */
    private function standing(): array
    {
        $standing = [];
        foreach ($this->inputs as $input) {
            if ($input->standsFor !== null && $input->fixed === null && ! in_array($input->name, $this->taken, true)) {
                $standing[] = [$input, $input->standsFor];
            }
        }

        return $standing;
    }

    private function column(string $name): ?Column
    {
        foreach ($this->table->columns as $column) {
            if (strcasecmp($column->name, $name) === 0 && $column->isPlain()) {
                return $column;
            }
        }

        return null;
    }

    /**
     * A value of SQL as services take it: moments by RFC 3339, true and false by their words.
     */
    private static function sent(Column $column, string $value): ?string
    {
        return match ($column->type->name()) {
            'boolean' => ['1' => 'true', '0' => 'false', 'true' => 'true', 'false' => 'false'][strtolower($value)] ?? null,
            'datetime' => preg_match('/^(\d{4}-\d\d-\d\d)(?:[ T](\d\d:\d\d)(:\d\d(?:\.\d+)?)?)?$/D', $value, $part) === 1 ? $part[1].'T'.($part[2] ?? '00:00').($part[3] ?? ':00').'Z' : null,
            'date' => preg_match('/^\d{4}-\d\d-\d\d$/D', $value) === 1 ? $value : null,
            'integer' => preg_match('/^-?\d+$/D', $value) === 1 ? $value : null,
            'decimal', 'float' => is_numeric($value) ? $value : null,
            default => $value,
        };
    }
}
